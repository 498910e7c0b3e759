#include "commands/number_words.h"

#include "commands/action_rows.h"

#include <QCoreApplication>

#include <algorithm>

namespace buttonhole::app
{

namespace
{

struct NumberWords {
    std::string_view kind;
    std::string_view number;
    const char *word;
    const char *help;
    const char *actions = ""; ///< that change it by keys
};

constexpr NumberWords kWords[] = {
    {"brush", "sizePx", QT_TRANSLATE_NOOP("Numbers", "Size"),
     QT_TRANSLATE_NOOP("Numbers", "Diameter of the tip, px of the photo"), "smaller larger"},
    {"brush", "softness", QT_TRANSLATE_NOOP("Numbers", "Softness"),
     QT_TRANSLATE_NOOP("Numbers", "How far the tip's edge fades"), "softer harder"},
    {"brush", "flow", QT_TRANSLATE_NOOP("Numbers", "Flow"),
     QT_TRANSLATE_NOOP("Numbers", "How much each dab lays down")},
    {"brush", "opacity", QT_TRANSLATE_NOOP("Numbers", "Opacity"),
     QT_TRANSLATE_NOOP("Numbers", "The most one stroke can reach")},
    {"brush", "edgeHold", QT_TRANSLATE_NOOP("Numbers", "Edges"),
     QT_TRANSLATE_NOOP("Numbers", "Hold to edges: paint only what belongs with the middle of the "
                                  "tip; more is stricter, 0 goes over edges"),
     "hold"},
    {"colour-window", "hueDeg", QT_TRANSLATE_NOOP("Numbers", "Hue"),
     QT_TRANSLATE_NOOP("Numbers", "The middle of the hues that join")},
    {"colour-window", "hueWidthDeg", QT_TRANSLATE_NOOP("Numbers", "Width"),
     QT_TRANSLATE_NOOP("Numbers", "How many degrees of hue join fully")},
    {"colour-window", "hueSoftDeg", QT_TRANSLATE_NOOP("Numbers", "Soft"),
     QT_TRANSLATE_NOOP("Numbers", "Over how many degrees the hue fades out")},
    {"colour-window", "chroma.least", QT_TRANSLATE_NOOP("Numbers", "Least chroma"),
     QT_TRANSLATE_NOOP("Numbers", "Colours weaker than this stay grey")},
    {"colour-window", "lightness.least", QT_TRANSLATE_NOOP("Numbers", "Darkest"),
     QT_TRANSLATE_NOOP("Numbers", "Darker parts stay grey")},
    {"colour-window", "lightness.most", QT_TRANSLATE_NOOP("Numbers", "Lightest"),
     QT_TRANSLATE_NOOP("Numbers", "Lighter parts stay grey")},
    {"tone-window", "least", QT_TRANSLATE_NOOP("Numbers", "Darkest"),
     QT_TRANSLATE_NOOP("Numbers", "Darker parts stay out")},
    {"tone-window", "most", QT_TRANSLATE_NOOP("Numbers", "Lightest"),
     QT_TRANSLATE_NOOP("Numbers", "Lighter parts stay out")},
    {"tone-window", "soft", QT_TRANSLATE_NOOP("Numbers", "Soft"),
     QT_TRANSLATE_NOOP("Numbers", "Over how much lightness it fades")},
    {"match", "reach", QT_TRANSLATE_NOOP("Numbers", "Reach"),
     QT_TRANSLATE_NOOP("Numbers", "How unlike the clicked colours a pixel may be")},
    {"match", "soft", QT_TRANSLATE_NOOP("Numbers", "Soft"),
     QT_TRANSLATE_NOOP("Numbers", "Over how much of the reach it fades")},
    {"light", "exposureEv", QT_TRANSLATE_NOOP("Numbers", "Exposure"),
     QT_TRANSLATE_NOOP("Numbers", "More or less light, in stops")},
    {"light", "contrast", QT_TRANSLATE_NOOP("Numbers", "Contrast"),
     QT_TRANSLATE_NOOP("Numbers", "Light parts lighter and dark ones darker, about a middle grey")},
    {"light", "liftShadows", QT_TRANSLATE_NOOP("Numbers", "Lift shadows"),
     QT_TRANSLATE_NOOP("Numbers", "Dark parts lighter; black stays black")},
    {"light", "holdHighlights", QT_TRANSLATE_NOOP("Numbers", "Hold highlights"),
     QT_TRANSLATE_NOOP("Numbers", "Light parts darker, what exposure made too light included")},
    {"light", "blackPoint", QT_TRANSLATE_NOOP("Numbers", "Black point"),
     QT_TRANSLATE_NOOP("Numbers", "How dark a tone becomes black")},
    {"light", "whitePoint", QT_TRANSLATE_NOOP("Numbers", "White point"),
     QT_TRANSLATE_NOOP("Numbers", "How light a tone becomes white")},
    {"light", "temperature", QT_TRANSLATE_NOOP("Numbers", "Temperature"),
     QT_TRANSLATE_NOOP("Numbers", "Towards amber, or blue below 0")},
    {"light", "greenMagenta", QT_TRANSLATE_NOOP("Numbers", "Green-magenta"),
     QT_TRANSLATE_NOOP("Numbers", "Towards magenta, or green below 0")},
    {"light", "saturation", QT_TRANSLATE_NOOP("Numbers", "Saturation"),
     QT_TRANSLATE_NOOP("Numbers", "How strong all colours are")},
    {"light", "faintColours", QT_TRANSLATE_NOOP("Numbers", "Faint colours"),
     QT_TRANSLATE_NOOP("Numbers", "How strong the weaker colours are; strong ones hardly change")},
    {"sharpness", "amount", QT_TRANSLATE_NOOP("Numbers", "Amount"),
     QT_TRANSLATE_NOOP("Numbers", "How much fine differences of lightness are raised")},
    {"sharpness", "radiusPx", QT_TRANSLATE_NOOP("Numbers", "Radius"),
     QT_TRANSLATE_NOOP("Numbers", "How coarse they may be, px of the photo")},
    {"curve", "darkest", QT_TRANSLATE_NOOP("Numbers", "Darkest"),
     QT_TRANSLATE_NOOP("Numbers", "Tones next to black lighter, or darker below 0")},
    {"curve", "darker", QT_TRANSLATE_NOOP("Numbers", "Darker"),
     QT_TRANSLATE_NOOP("Numbers", "Dark tones lighter, or darker below 0")},
    {"curve", "middle", QT_TRANSLATE_NOOP("Numbers", "Middle"),
     QT_TRANSLATE_NOOP("Numbers", "Middle tones lighter, or darker below 0")},
    {"curve", "lighter", QT_TRANSLATE_NOOP("Numbers", "Lighter"),
     QT_TRANSLATE_NOOP("Numbers", "Light tones lighter, or darker below 0")},
    {"curve", "lightest", QT_TRANSLATE_NOOP("Numbers", "Lightest"),
     QT_TRANSLATE_NOOP("Numbers", "Tones next to white lighter, or darker below 0")},
    {"fog", "amount", QT_TRANSLATE_NOOP("Numbers", "Fog"),
     QT_TRANSLATE_NOOP("Numbers", "A veil: black gets lighter, contrast and colour weaker; with a "
                                  "fade for its mask it has depth")},
    {"fog", "lightness", QT_TRANSLATE_NOOP("Numbers", "Its lightness"),
     QT_TRANSLATE_NOOP("Numbers", "How light the veil is")},
    {"texture", "fine", QT_TRANSLATE_NOOP("Numbers", "Fine"),
     QT_TRANSLATE_NOOP("Numbers", "Bite: small differences larger; below 0 calm: smaller")},
    {"texture", "coarse", QT_TRANSLATE_NOOP("Numbers", "Coarse"),
     QT_TRANSLATE_NOOP("Numbers", "The same of differences some 40 px wide")},
    {"blur", "radiusPx", QT_TRANSLATE_NOOP("Numbers", "Radius"),
     QT_TRANSLATE_NOOP("Numbers", "How far light is spread, px of the photo")},
    {"noise", "lightness", QT_TRANSLATE_NOOP("Numbers", "In lightness"),
     QT_TRANSLATE_NOOP("Numbers", "Smooths grain away and keeps edges")},
    {"noise", "colour", QT_TRANSLATE_NOOP("Numbers", "In colour"),
     QT_TRANSLATE_NOOP("Numbers", "Smooths blotches of colour away and keeps edges")},
    {"lens", "distortion", QT_TRANSLATE_NOOP("Numbers", "Distortion"),
     QT_TRANSLATE_NOOP("Numbers", "How much of what the profile says is taken back; 0 leaves it")},
    {"lens", "vignetting", QT_TRANSLATE_NOOP("Numbers", "Dark corners"),
     QT_TRANSLATE_NOOP("Numbers", "How much of what the profile says is taken back; 0 leaves it")},
    {"lens", "fringes", QT_TRANSLATE_NOOP("Numbers", "Colour fringes"),
     QT_TRANSLATE_NOOP("Numbers", "How much of what the profile says is taken back; 0 leaves it")},
    {"lens", "barrel", QT_TRANSLATE_NOOP("Numbers", "Bulging lines"),
     QT_TRANSLATE_NOOP("Numbers", "Makes lines straight that bulge outwards, or inwards below 0")},
    {"lens", "corners", QT_TRANSLATE_NOOP("Numbers", "Corner light"),
     QT_TRANSLATE_NOOP("Numbers", "Makes corners lighter, or darker below 0")},
    {"lens", "redFringe", QT_TRANSLATE_NOOP("Numbers", "Red fringe"),
     QT_TRANSLATE_NOOP("Numbers", "Draws red in towards the middle, or out below 0")},
    {"lens", "blueFringe", QT_TRANSLATE_NOOP("Numbers", "Blue fringe"),
     QT_TRANSLATE_NOOP("Numbers", "Draws blue in towards the middle, or out below 0")},
    {"straighten", "angleDeg", QT_TRANSLATE_NOOP("Numbers", "Angle"),
     QT_TRANSLATE_NOOP("Numbers", "Turns the photo clockwise, or the other way below 0")},
    {"straighten", "verticalDeg", QT_TRANSLATE_NOOP("Numbers", "Upright lines"),
     QT_TRANSLATE_NOOP("Numbers", "Keystone: sets uprights apart that lean together at the top")},
    {"straighten", "horizontalDeg", QT_TRANSLATE_NOOP("Numbers", "Level lines"),
     QT_TRANSLATE_NOOP("Numbers", "Keystone: the same for level lines that run together at the "
                                  "right")},
    {"vignette", "amount", QT_TRANSLATE_NOOP("Numbers", "Amount"),
     QT_TRANSLATE_NOOP("Numbers", "Darker towards the border below 0, lighter above")},
    {"vignette", "midpoint", QT_TRANSLATE_NOOP("Numbers", "Midpoint"),
     QT_TRANSLATE_NOOP("Numbers", "How far from the middle half of it is reached")},
    {"vignette", "roundness", QT_TRANSLATE_NOOP("Numbers", "Roundness"),
     QT_TRANSLATE_NOOP("Numbers", "A circle, or below 0 as the frame is")},
    {"vignette", "feather", QT_TRANSLATE_NOOP("Numbers", "Feather"),
     QT_TRANSLATE_NOOP("Numbers", "Over how much of the way it comes")},
    {"vignette", "holdHighlights", QT_TRANSLATE_NOOP("Numbers", "Hold highlights"),
     QT_TRANSLATE_NOOP("Numbers", "So much less of it where there is light")},
    {"vignette", "spareKept", QT_TRANSLATE_NOOP("Numbers", "Spare keeps"),
     QT_TRANSLATE_NOOP("Numbers", "So much less of it on what stays in colour")},
    {"grain", "amount", QT_TRANSLATE_NOOP("Numbers", "Amount"),
     QT_TRANSLATE_NOOP("Numbers", "Strongest in the middle greys, none in black and white")},
    {"grain", "sizePermille", QT_TRANSLATE_NOOP("Numbers", "Size"),
     QT_TRANSLATE_NOOP("Numbers", "From one grain to the next, in thousandths of the picture's "
                                  "longer edge: the same look at every size of delivery")},
    {"grain", "roughness", QT_TRANSLATE_NOOP("Numbers", "Roughness"),
     QT_TRANSLATE_NOOP("Numbers", "How much of it is twice as fine")},
    {"grain", "spareKept", QT_TRANSLATE_NOOP("Numbers", "Spare keeps"),
     QT_TRANSLATE_NOOP("Numbers", "So much less of it on what stays in colour")},
    {"grain", "seed", QT_TRANSLATE_NOOP("Numbers", "Pattern"),
     QT_TRANSLATE_NOOP("Numbers", "Another number is another grain")},
    {"toneColours", "strength", QT_TRANSLATE_NOOP("Numbers", "Strength"),
     QT_TRANSLATE_NOOP("Numbers", "How much of the colours the greys take")},
    {"toneColours", "shadowsHueDeg", QT_TRANSLATE_NOOP("Numbers", "Shadows"),
     QT_TRANSLATE_NOOP("Numbers", "Hue of the shadows")},
    {"toneColours", "shadowsColour", QT_TRANSLATE_NOOP("Numbers", "Their colour"),
     QT_TRANSLATE_NOOP("Numbers", "How colourful the shadows are")},
    {"toneColours", "middleHueDeg", QT_TRANSLATE_NOOP("Numbers", "Middle"),
     QT_TRANSLATE_NOOP("Numbers", "Hue of the middle greys")},
    {"toneColours", "middleColour", QT_TRANSLATE_NOOP("Numbers", "Their colour"),
     QT_TRANSLATE_NOOP("Numbers", "How colourful the middle greys are")},
    {"toneColours", "lightsHueDeg", QT_TRANSLATE_NOOP("Numbers", "Lights"),
     QT_TRANSLATE_NOOP("Numbers", "Hue of the lights")},
    {"toneColours", "lightsColour", QT_TRANSLATE_NOOP("Numbers", "Their colour"),
     QT_TRANSLATE_NOOP("Numbers", "How colourful the lights are")},
    {"toneColours", "negative", QT_TRANSLATE_NOOP("Numbers", "Negative"),
     QT_TRANSLATE_NOOP("Numbers", "Turns black and white over")},
    {"toneColours", "spareKept", QT_TRANSLATE_NOOP("Numbers", "Spare keeps"),
     QT_TRANSLATE_NOOP("Numbers", "So much less of it on what stays in colour")},
    {"frame", "width", QT_TRANSLATE_NOOP("Numbers", "Width"),
     QT_TRANSLATE_NOOP("Numbers", "Of every side, of the picture's shorter edge")},
    {"frame", "over", QT_TRANSLATE_NOOP("Numbers", "Overlap"),
     QT_TRANSLATE_NOOP("Numbers",
                       "How much of its width lies over the picture; the rest makes it larger")},
    {"frame", "lightness", QT_TRANSLATE_NOOP("Numbers", "Lightness"),
     QT_TRANSLATE_NOOP("Numbers", "From black to white")},
    {"frame", "colour", QT_TRANSLATE_NOOP("Numbers", "Colour"),
     QT_TRANSLATE_NOOP("Numbers", "How colourful it is")},
    {"frame", "hueDeg", QT_TRANSLATE_NOOP("Numbers", "Hue"),
     QT_TRANSLATE_NOOP("Numbers", "Its hue, where it is colourful")},
    {"frame", "opacity", QT_TRANSLATE_NOOP("Numbers", "Opacity"),
     QT_TRANSLATE_NOOP("Numbers", "Lets the picture shine through, or what lies behind")},
    {"frame", "corners", QT_TRANSLATE_NOOP("Numbers", "Round corners"),
     QT_TRANSLATE_NOOP("Numbers", "Radius of the picture's corners")},
    {"frame", "lineWidth", QT_TRANSLATE_NOOP("Numbers", "Line"),
     QT_TRANSLATE_NOOP("Numbers", "Width of a line round the picture")},
    {"frame", "lineGap", QT_TRANSLATE_NOOP("Numbers", "Line's gap"),
     QT_TRANSLATE_NOOP("Numbers", "From the picture's edge; below 0 over the picture")},
    {"frame", "lineLightness", QT_TRANSLATE_NOOP("Numbers", "Line's light"),
     QT_TRANSLATE_NOOP("Numbers", "From black to white")},
    {"frame", "shadow", QT_TRANSLATE_NOOP("Numbers", "Shadow"),
     QT_TRANSLATE_NOOP("Numbers",
                       "Of the picture on the frame; below 0 of the frame on the picture")},
    {"frame", "shadowSize", QT_TRANSLATE_NOOP("Numbers", "Its width"),
     QT_TRANSLATE_NOOP("Numbers", "How far the shadow reaches")},
    {"frame", "moreAbove", QT_TRANSLATE_NOOP("Numbers", "More above"),
     QT_TRANSLATE_NOOP("Numbers", "Added to the upper side")},
    {"frame", "moreBelow", QT_TRANSLATE_NOOP("Numbers", "More below"),
     QT_TRANSLATE_NOOP("Numbers", "Added to the lower side")},
    {"frame", "moreLeft", QT_TRANSLATE_NOOP("Numbers", "More left"),
     QT_TRANSLATE_NOOP("Numbers", "Added to the left side")},
    {"frame", "moreRight", QT_TRANSLATE_NOOP("Numbers", "More right"),
     QT_TRANSLATE_NOOP("Numbers", "Added to the right side")},
    {"signature", "size", QT_TRANSLATE_NOOP("Numbers", "Size"),
     QT_TRANSLATE_NOOP("Numbers",
                       "Height of its letters or drawing, of the picture's shorter edge")},
    {"signature", "opacity", QT_TRANSLATE_NOOP("Numbers", "Opacity"),
     QT_TRANSLATE_NOOP("Numbers", "How much of the picture it covers")},
    {"signature", "across", QT_TRANSLATE_NOOP("Numbers", "Across"),
     QT_TRANSLATE_NOOP("Numbers", "From the left edge to the right one")},
    {"signature", "down", QT_TRANSLATE_NOOP("Numbers", "Down"),
     QT_TRANSLATE_NOOP("Numbers", "From the upper edge to the lower one")},
    {"signature", "inset", QT_TRANSLATE_NOOP("Numbers", "Inset"),
     QT_TRANSLATE_NOOP("Numbers", "How far from the picture's edges; below 0 on the frame")},
    {"signature", "lightness", QT_TRANSLATE_NOOP("Numbers", "Lightness"),
     QT_TRANSLATE_NOOP("Numbers", "Of the ink, where it does not go by what is under it")},
    {"signature", "colour", QT_TRANSLATE_NOOP("Numbers", "Colour"),
     QT_TRANSLATE_NOOP("Numbers", "How colourful the ink is")},
    {"signature", "hueDeg", QT_TRANSLATE_NOOP("Numbers", "Hue"),
     QT_TRANSLATE_NOOP("Numbers", "Its hue, where it is colourful")},
    {"tone", "strength", QT_TRANSLATE_NOOP("Numbers", "Strength"),
     QT_TRANSLATE_NOOP("Numbers", "How much of all it does shows")},
    {"tone", "featherPx", QT_TRANSLATE_NOOP("Numbers", "Feather"),
     QT_TRANSLATE_NOOP("Numbers", "How softly its mask ends")},
    {"tone", "growPx", QT_TRANSLATE_NOOP("Numbers", "Grow"),
     QT_TRANSLATE_NOOP("Numbers", "Makes its mask larger, or smaller below 0")},
    {"tone", "softEdgePx", QT_TRANSLATE_NOOP("Numbers", "Soft edge"),
     QT_TRANSLATE_NOOP("Numbers", "To either side of its mask's edge the photo says what belongs")},
    {"tone", "specksPx", QT_TRANSLATE_NOOP("Numbers", "Drop specks"),
     QT_TRANSLATE_NOOP("Numbers", "Parts of its mask up to this long are left out")},
    {"tone", "holesPx", QT_TRANSLATE_NOOP("Numbers", "Fill holes"),
     QT_TRANSLATE_NOOP("Numbers", "Holes of its mask up to this long are filled")},
    {"fade", "feather", QT_TRANSLATE_NOOP("Numbers", "Feather"),
     QT_TRANSLATE_NOOP("Numbers", "Share of the way over which it fades")},
};

const NumberWords *wordsOf(std::string_view kind, std::string_view number)
{
    const auto row = std::find_if(std::begin(kWords), std::end(kWords), [&](const auto &each) {
        return each.kind == kind && each.number == number;
    });
    return row == std::end(kWords) ? nullptr : row;
}

QString wordOfId(std::string_view id)
{
    QString out;
    for (const char c : id) {
        const QChar letter = QLatin1Char(c);
        if (letter == QLatin1Char('-') || letter == QLatin1Char('.'))
            out += QLatin1Char(' ');
        else if (letter.isUpper())
            out += QStringLiteral(" ") + letter.toLower();
        else
            out += out.isEmpty() ? letter.toUpper() : letter;
    }
    return out;
}

} // namespace

QString kindWord(std::string_view kind)
{
    if (kind == "toneColours")
        return QCoreApplication::translate("Numbers", "Colours by tone");
    return wordOfId(kind);
}

QString numberWord(std::string_view kind, std::string_view number)
{
    const NumberWords *words = wordsOf(kind, number);
    return words ? QCoreApplication::translate("Numbers", words->word) : wordOfId(number);
}

QString numberHelp(std::string_view kind, std::string_view number)
{
    const NumberWords *words = wordsOf(kind, number);
    if (!words)
        return {};
    QStringList keys;
    for (const QString &id :
         QString::fromLatin1(words->actions).split(QLatin1Char(' '), Qt::SkipEmptyParts))
        keys.append(keyOf(id.toLatin1().constData()));
    const QString help = QCoreApplication::translate("Numbers", words->help);
    return keys.isEmpty() ? help
                          : QStringLiteral("%1 (%2)").arg(help, keys.join(QStringLiteral(", ")));
}

} // namespace buttonhole::app

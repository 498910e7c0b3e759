// Prints a digest of what takes of every sort render to, a line each: run before and after a change
// that must not change pictures (scripts/same-bytes), on one machine.
#include "document/take_json.h"
#include "io/file.h"
#include "render/render.h"
#include "samples.h"
#include "tone/looks.h"

#include <nlohmann/json.hpp>

#include <cstdio>

using namespace buttonhole;
using nlohmann::json;

namespace
{

struct Case {
    std::string name;
    json take;
};

json brush(double x, double y)
{
    return {{"kind", "brush"},
            {"strokes",
             {{{"sizePx", 120}, {"softness", 0.4}, {"points", {{x, y}, {x + 120, y + 60}}}},
              {{"sizePx", 30}, {"takesBack", true}, {"points", {{x + 40, y}}}}}}};
}

json keepOf(json steps, const json &more = json::object())
{
    json keep{{"name", "Spool"}, {"steps", std::move(steps)}};
    keep.update(more);
    return keep;
}

json takeOf(json keeps, const json &grey = json::object())
{
    return {{"format", "buttonhole-take"}, {"grey", grey}, {"keeps", std::move(keeps)}};
}

json with(json step, const json &more)
{
    step.update(more);
    return step;
}

const json kBand{{"hueDeg", 40},
                 {"hueWidthDeg", 80},
                 {"hueSoftDeg", 20},
                 {"chroma", {{"least", 0.03}, {"most", 0.4}, {"soft", 0.05}}},
                 {"lightness", {{"least", 0.2}, {"most", 0.9}, {"soft", 0.1}}}};

/// Every kind of step, every sign, and ways to limit them.
void addSteps(std::vector<Case> &cases)
{
    const json region{
        {"kind", "region"},
        {"marks", {{{"points", {{200, 200}}}}, {{"points", {{400, 300}}}, {"leave", true}}}},
        {"reach", 0.2}};
    const json match{{"kind", "match"},
                     {"clicks", {{{"at", {200, 150}}, {"oklab", {0.6, 0.1, 0.05}}}}},
                     {"reach", 0.15},
                     {"soft", 0.4}};
    const json window{{"kind", "colour-window"}, {"range", kBand}};
    const json tone{{"kind", "tone-window"}, {"least", 0.3}, {"most", 0.7}, {"soft", 0.1}};
    const json outline{{"kind", "outline"},
                       {"outlines", {{{100, 100}, {400, 120}, {300, 380, 0, 0, 40, 20}}}}};
    const json fade{{"kind", "fade"}, {"from", {100, 100}}, {"to", {500, 300}}, {"feather", 0.6}};
    const std::pair<const char *, json> kinds[] = {{"brush", brush(200, 200)},
                                                   {"region", region},
                                                   {"match", match},
                                                   {"window", window},
                                                   {"tone", tone},
                                                   {"outline", outline},
                                                   {"fade", fade}};
    for (const auto &[name, step] : kinds) {
        cases.push_back({std::string("step ") + name, takeOf({keepOf({step})})});
        cases.push_back(
            {std::string("inverted ") + name, takeOf({keepOf({with(step, {{"invert", true}})})})});
    }
    cases.push_back(
        {"subject", takeOf({keepOf({{{"kind", "subject"}, {"box", {120, 90, 420, 330}}}})})});
    cases.push_back(
        {"held brush",
         takeOf({keepOf({with(
             brush(150, 150),
             {{"strokes",
               {{{"sizePx", 90}, {"edgeHold", 0.7}, {"points", {{150, 150}, {300, 240}}}}}}})})})});
    for (const char *sign : {"add", "subtract", "only-inside", "fuzz", "spill"})
        cases.push_back({std::string("sign ") + sign,
                         takeOf({keepOf({tone, with(brush(260, 180), {{"sign", sign}})})})});
    cases.push_back(
        {"inside what is there",
         takeOf({keepOf({brush(100, 100), with(fade, {{"insideOf", "what-is-there"}})})})});
    cases.push_back(
        {"inside a step", takeOf({keepOf({with(brush(100, 100), {{"id", 2}}),
                                          with(fade, {{"id", 3}, {"insideOf", 2}})})})});
    cases.push_back(
        {"connected window",
         takeOf({keepOf({with(window, {{"connected", true}, {"places", {{200, 150}}}})})})});
    cases.push_back(
        {"window in all light",
         takeOf({keepOf({with(window, {{"followsShading", false}, {"excluded", {kBand}}})})})});
    cases.push_back({"connected match", takeOf({keepOf({with(match, {{"connected", true}})})})});
    cases.push_back(
        {"round fade", takeOf({keepOf({with(fade, {{"shape", "round"}, {"ratio", 0.5}})})})});
}

/// What keeps do with their mask and colour.
void addKeeps(std::vector<Case> &cases)
{
    const json steps{brush(200, 200), {{"kind", "tone-window"}, {"least", 0.6}, {"most", 0.9}}};
    const std::pair<const char *, json> changes[] = {
        {"strength", {{"strength", 0.6}}},
        {"feather", {{"featherPx", 4}}},
        {"wide feather", {{"featherPx", 40}}},
        {"grow", {{"growPx", 7}}},
        {"shrink", {{"growPx", -12}}},
        {"clean", {{"specksPx", 8}, {"holesPx", 6}}},
        {"soft edge", {{"softEdgePx", 8}}},
        {"soft edge found", {{"softEdgeFound", true}}},
        {"spill", {{"softEdgePx", 6}, {"spill", 0.8}}},
        {"everything but", {{"invert", true}}},
        {"hue", {{"look", {{"hueShiftDeg", 40}}}}},
        {"muted", {{"look", {{"saturation", 0.4}, {"lightness", 0.2}}}}},
        {"warm", {{"look", {{"warmth", 0.7}, {"saturation", 1.6}}}}},
        {"tinted", {{"look", {{"tint", 0.5}, {"tintHueDeg", 200}}}}}};
    for (const auto &[name, change] : changes)
        cases.push_back({std::string("keep ") + name, takeOf({keepOf(steps, change)})});
    cases.push_back(
        {"two keeps",
         takeOf({keepOf(steps), keepOf({brush(300, 120)}, {{"look", {{"saturation", 0.5}}}})})});
}

void addGreys(std::vector<Case> &cases)
{
    const json keeps{keepOf({brush(200, 200)})};
    const std::pair<const char *, json> greys[] = {
        {"off", {{"on", false}}},
        {"lightness", {{"base", "lightness"}}},
        {"average", {{"base", "average"}}},
        {"extremes", {{"base", "extremes"}}},
        {"blend", {{"base", "blend"}, {"blend", {{"red", 1.2}, {"green", -0.3}, {"blue", 0.1}}}}},
        {"hue curve",
         {{"hueCurve",
           {{{"hue", 40}, {"value", 60}}, {{"hue", 220}, {"value", -50}, {"width", 70}}}}}},
        {"glass", {{"glass", {{"colour", "orange"}, {"strength", 0.8}}}}},
        {"tone",
         {{"tone",
           {{"black", 0.05},
            {"middle", 0.45},
            {"white", 0.95},
            {"contrast", 30},
            {"pivot", 0.4},
            {"highlights", -20},
            {"shadows", 25}}}}},
        {"tone curve", {{"tone", {{"curve", {{0, 0}, {0.4, 0.55}, {1, 0.95}}}}}}},
        {"local", {{"tone", {{"localContrast", 40}, {"fineContrast", -30}}}}},
        {"toning",
         {{"toning",
           {{"shadows", {{"hue", 240}, {"saturation", 30}}},
            {"highlights", {{"hue", 70}, {"saturation", 20}}},
            {"balance", -20}}}}},
        {"toning over keeps",
         {{"toning", {{"shadows", {{"hue", 40}, {"saturation", 40}}}, {"overKeeps", true}}}}},
        {"colour left", {{"colourLeft", 0.25}}},
        {"half strength",
         {{"base", "average"}, {"strength", 0.5}, {"glass", {{"colour", "red"}}}}}};
    for (const auto &[name, grey] : greys)
        cases.push_back({std::string("grey ") + name, takeOf(keeps, grey)});
}

std::string digestOf(const PhotoLevels &levels, const Take &take, View view, int level,
                     RenderTarget::Layout layout)
{
    const OutputColour output(levels.photo().profile);
    const Rect area = levels.rectOf(level);
    const size_t bytesPerPixel = layout == RenderTarget::Layout::Rgb8    ? 3
                                 : layout == RenderTarget::Layout::Rgb16 ? 6
                                                                         : 4;
    std::vector<uint8_t> pixels(area.area() * bytesPerPixel, 0);
    RenderOptions options;
    options.tintHueDeg = 200;
    options.pinned.grey = std::make_shared<const GreyMix>(looks()[3].mix);
    if (!renderPicture(levels, take, view, level, test::asPicture(area), output,
                       {layout, pixels.data(), size_t(area.width()) * bytesPerPixel}, options))
        return "failed";
    Sha256 sum;
    sum.add(pixels.data(), pixels.size());
    return sum.hex().substr(0, 24);
}

void print(const std::string &name, const std::string &digest)
{
    std::printf("%s  %s\n", digest.c_str(), name.c_str());
}

} // namespace

int main()
{
    std::vector<Case> cases;
    addSteps(cases);
    addKeeps(cases);
    addGreys(cases);
    constexpr int kWidth = 640;
    constexpr int kHeight = 480;
    const std::pair<const char *, std::shared_ptr<const Photo>> photos[] = {
        {"sRGB 8", test::makePhoto(kWidth, kHeight)},
        {"sRGB 16", test::makePhoto(kWidth, kHeight, 16)},
        {"wide 16", test::makePhoto(kWidth, kHeight, 16, test::wideProfile())},
        {"wide 8", test::makePhoto(kWidth, kHeight, 8, test::wideProfile())}};
    using Layout = RenderTarget::Layout;
    for (const auto &[photoName, photo] : photos) {
        const auto levels = PhotoLevels::make(photo).value();
        for (const Case &each : cases) {
            std::vector<std::string> notes;
            const auto take = takeFromText(each.take.dump(), kWidth, kHeight, each.name, notes);
            if (!take) {
                std::fprintf(stderr, "%s: %s\n", each.name.c_str(), sentence(take.error()).c_str());
                return 1;
            }
            const std::string name = std::string(photoName) + ", " + each.name;
            print(name + ", 8 bits", digestOf(*levels, *take, View::Result, 0, Layout::Rgb8));
            print(name + ", 16 bits", digestOf(*levels, *take, View::Result, 0, Layout::Rgb16));
            print(name + ", half", digestOf(*levels, *take, View::Result, 1, Layout::Bgrx8));
        }
        std::vector<std::string> notes;
        const auto take = takeFromText(cases[0].take.dump(), kWidth, kHeight, "views", notes);
        for (int view = 0; view <= int(View::Pinned); ++view)
            print(std::string(photoName) + ", view " + std::to_string(view),
                  digestOf(*levels, *take, View(view), 0, Layout::Bgrx8));
        for (const Look &look : looks()) {
            Take looked = *take;
            looked.grey = look.mix;
            print(std::string(photoName) + ", look " + look.name,
                  digestOf(*levels, looked, View::Result, 0, Layout::Rgb8));
        }
    }
    return 0;
}

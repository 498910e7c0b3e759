#pragma once

#include "document/seen_part.h"
#include "document/take.h"

#include <functional>
#include <map>
#include <string>
#include <vector>

namespace buttonhole
{

/// What of a take can be taken alone, and put into another one without touching the rest.
struct TakeGroup {
    std::string_view id;
    /// The take has something of it.
    bool (*isSet)(const Take &take);
};

/// "crop" (its ratio), "lens", "light" (with sharpness and noise), "grey", "toning", "keeps" (their
/// masks), "look" (of keeps: colour and glow), "tones", "vignette", "grain", "toneColours", "frame"
/// and "signature", in the ticket's order. A local tone alone is "tone:NAME".
std::span<const TakeGroup> takeGroups();
bool isTakeGroup(std::string_view id); ///< also of a local tone alone

/// Groups of a take under a name: plain data.
struct Preset {
    static constexpr int kVersion = 1;
    static constexpr size_t kMostName = 80; ///< bytes

    std::string name;
    std::vector<std::string> groups;
    Take take;     ///< what they hold; the rest of it is plain
    int width = 0; ///< of the photo that its masks are placed on, px
    int height = 0;
    std::map<std::string, SeenPart> seen; ///< what its masks covered, by the line's name
    std::string exportJson; ///< how it leaves, as export/delivery.h writes it; empty: not said
};

/// Those groups of a take of a photo of that size.
Preset presetOf(const Take &take, std::vector<std::string> groups, std::string name, int width,
                int height);
/// The same with what its masks cover, so that they can be compared elsewhere.
Preset presetOf(const Take &take, std::vector<std::string> groups, std::string name,
                const PhotoLevels &levels);
/// Takes those groups back: what a plain take has.
Preset plainPreset(std::vector<std::string> groups, std::string name);

/// What became of a step of a mask on another photo.
struct CarriedStep {
    enum class How {
        Same,    ///< goes by pixels or by the frame
        Found,   ///< looked for anew
        Placed,  ///< by the same share of the frame
        LeftOut, ///< it belongs to the other photo
        NotFound ///< looked for, and nothing like it is there
    };
    std::string line; ///< the keep's or tone's name
    std::string kind; ///< of step
    How how = How::Same;
};
std::string_view
toWord(CarriedStep::How how); ///< "same", "found", "placed", "left-out", "not-found"

struct PresetUse {
    int width = 0; ///< of the photo that it is put on, px
    int height = 0;
    bool placesAll = false; ///< also what lay where it lay on the other photo: strokes, outlines
    /// Looks for a subject like that one; null: none is there. None: subjects are left out.
    /// @param line the keep's or tone's name
    std::function<std::shared_ptr<const StepShape>(const std::string &line, const StepShape &)>
        find;
};

/// A take with a preset's groups in the place of its own.
/// @param report gathers what became of the steps of masks
Take withPreset(Take take, const Preset &preset, const PresetUse &use,
                std::vector<CarriedStep> &report);

/// With the largest crop of that ratio, width to height of what leaves, round the middle of the
/// present one; 0: all of it.
Take withCropRatio(Take take, double ratio, int photoWidth, int photoHeight);

/// One preset a file (docs/format.md).
std::string presetToText(const Preset &preset);
/// Errors: Damaged, BadValue (what and why), Newer; named by `subject`.
Result<Preset> presetFromText(const std::string &text, const std::string &subject,
                              std::vector<std::string> &notes);

} // namespace buttonhole

#include "mask/step.h"

#include "mask/brush_step.h"
#include "mask/colour_window.h"
#include "mask/fade_step.h"
#include "mask/match_step.h"
#include "mask/outline_step.h"
#include "mask/picture_step.h"
#include "mask/region_step.h"
#include "mask/tone_window.h"
#include "mask/unknown_step.h"

#include <nlohmann/json.hpp>

#include <algorithm>
#include <cassert>

namespace buttonhole
{

namespace
{

constexpr std::pair<Sign, std::string_view> kSigns[] = {{Sign::Add, "add"},
                                                        {Sign::Subtract, "subtract"},
                                                        {Sign::OnlyInside, "only-inside"},
                                                        {Sign::Fuzz, "fuzz"},
                                                        {Sign::Spill, "spill"}};

} // namespace

/// A new kind adds its file, its line here, and its test.
KindTable<StepKind> &stepKinds()
{
    static KindTable<StepKind> all(std::deque<StepKind>{
        {"brush", BrushStep::fromJson},
        {"colour-window", ColourWindowStep::fromJson, anyParams(colourRangeParams())},
        {"fade", FadeStep::fromJson, anyParams(fadeParams())},
        {"match", MatchStep::fromJson, anyParams(matchParams())},
        {"outline", OutlineStep::fromJson},
        {"picture", PictureStep::fromJson},
        {"region", RegionStep::fromJson, anyParams(regionAskParams())},
        {"subject", RegionStep::fromJson, anyParams(regionAskParams())},
        {"tone-window", ToneWindowStep::fromJson, anyParams(toneRangeParams())},
    });
    return all;
}

std::string_view toWord(Sign sign)
{
    return kSigns[size_t(sign)].second;
}

Result<Sign> signFromWord(std::string_view word)
{
    for (const auto &[sign, name] : kSigns)
        if (name == word)
            return sign;
    return Error{ErrorKind::InvalidArgument, "sign \"" + std::string(word) + "\"",
                 "add, subtract, only-inside, fuzz or spill is expected"};
}

Result<std::shared_ptr<const StepShape>> stepFromJson(const nlohmann::json &stored,
                                                      MaskReader &reader)
{
    const std::string id = stored.at("kind").get<std::string>();
    if (const StepKind *kind = stepKinds().find(id))
        return kind->fromJson(stored, reader);
    reader.notes.push_back("A step of the kind \"" + id +
                           "\" is from a newer version: it is kept but has no effect here.");
    return std::shared_ptr<const StepShape>(std::make_shared<UnknownStep>(stored));
}

std::shared_ptr<const StepShape> StepShape::withNumber(size_t, float) const
{
    assert(false); // of a kind without numbers
    return nullptr;
}

StepShape::Effect Step::coverage(const PhotoLevels &levels, int level, const Rect &area,
                                 uint16_t *lo, uint16_t *hi) const
{
    const auto effect = shape->coverage(levels, level, area, lo, hi);
    if (!invert)
        return effect;
    for (size_t i = 0; i < area.area(); ++i)
        lo[i] = effect == StepShape::Effect::None ? uint16_t(65535) : uint16_t(65535 - lo[i]);
    return StepShape::Effect::Raises;
}

void foldStep(Sign sign, StepShape::Effect effect, const uint16_t *lo, const uint16_t *hi,
              uint16_t *mask, size_t n)
{
    using Effect = StepShape::Effect;
    if (sign == Sign::OnlyInside) {
        for (size_t i = 0; i < n; ++i)
            mask[i] = effect == Effect::None ? uint16_t(0) : std::min(mask[i], lo[i]);
        return;
    }
    if (effect == Effect::None || isMark(sign))
        return;
    const bool adds = sign == Sign::Add;
    if (effect == Effect::Raises) {
        for (size_t i = 0; i < n; ++i)
            mask[i] = adds ? std::max(mask[i], lo[i]) : std::min(mask[i], uint16_t(65535 - lo[i]));
        return;
    }
    for (size_t i = 0; i < n; ++i) {
        const uint16_t least = adds ? lo[i] : uint16_t(65535 - hi[i]);
        const uint16_t most = adds ? hi[i] : uint16_t(65535 - lo[i]);
        mask[i] = std::min(std::max(mask[i], least), most);
    }
}

} // namespace buttonhole

#include "document/preset.h"

#include "base/frame_scale.h"
#include "light/fine_light.h"
#include "light/frame.h"
#include "light/grain.h"
#include "light/lens.h"
#include "light/photo_light.h"
#include "light/signature.h"
#include "light/tone_colours.h"
#include "light/vignette.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace buttonhole
{

namespace
{

constexpr std::string_view kOfTone = "tone:";

/// One preset on its way into a take.
struct Carrier {
    const Preset &preset;
    const PresetUse &use;
    std::vector<CarriedStep> &report;

    FrameScale scale() const
    {
        const bool isSized = preset.width > 0 && preset.height > 0 && use.width > 0;
        return isSized ? FrameScale{double(use.width) / preset.width,
                                    double(use.height) / preset.height}
                       : FrameScale{};
    }
    std::shared_ptr<const StepShape> carried(const std::string &line, const Step &step) const;
    /// A line's mask on the other photo, with ids of its own.
    template <class Line>
    Line carried(Line line, Take &to) const;
};

std::shared_ptr<const StepShape> Carrier::carried(const std::string &line, const Step &step) const
{
    using How = CarriedStep::How;
    const auto tell = [&](How how) { report.push_back({line, step.shape->kind(), how}); };
    const StepShape::Holds holds = step.shape->holds();
    if (step.shape->kind() == "subject" && use.find) {
        auto found = use.find(line, *step.shape);
        tell(found ? How::Found : How::NotFound);
        return found;
    }
    const bool isHeld = holds == StepShape::Holds::Anywhere || holds == StepShape::Holds::ByFrame;
    if (!isHeld && !(holds == StepShape::Holds::Placed && use.placesAll)) {
        tell(How::LeftOut);
        return nullptr;
    }
    tell(isHeld ? How::Same : How::Placed);
    return step.shape->placedBy(scale());
}

template <class Line>
Line Carrier::carried(Line line, Take &to) const
{
    const std::vector<Step> before = std::move(line.steps);
    line.steps.clear();
    line.id = to.nextId++;
    std::vector<std::pair<uint64_t, uint64_t>> ids;
    for (const Step &step : before) {
        auto shape = carried(line.name, step);
        if (!shape)
            continue;
        Step made = step;
        made.shape = std::move(shape);
        made.id = to.nextId++;
        ids.emplace_back(step.id, made.id);
        line.steps.push_back(std::move(made));
    }
    for (Step &step : line.steps) { // of one that was left out it acts anywhere
        if (step.insideOf == Step::kAnywhere || step.insideOf == Step::kWhatIsThere)
            continue;
        const auto at = std::find_if(ids.begin(), ids.end(),
                                     [&](const auto &each) { return each.first == step.insideOf; });
        step.insideOf = at == ids.end() ? Step::kAnywhere : at->second;
    }
    const double length = scale().length();
    for (const Param<Mask> &row : maskParams())
        row.of(line) = std::clamp(float(double(row.get(line)) * length), row.least, row.most);
    return line;
}

/// Puts a line in the place of the one of its name, or behind all.
template <class Line>
void put(std::vector<Line> &lines, Line line)
{
    const auto at = std::find_if(lines.begin(), lines.end(),
                                 [&](const Line &each) { return each.name == line.name; });
    if (at == lines.end()) {
        lines.push_back(std::move(line));
        return;
    }
    line.id = at->id;
    *at = std::move(line);
}

const AdjustmentLine *lineOf(const std::vector<AdjustmentLine> &lines, std::string_view kind)
{
    const auto at = std::find_if(lines.begin(), lines.end(), [&](const AdjustmentLine &line) {
        return line.adjustment->kind() == kind;
    });
    return at == lines.end() ? nullptr : &*at;
}

bool isLineSet(const std::vector<AdjustmentLine> &lines, std::string_view kind)
{
    const AdjustmentLine *line = lineOf(lines, kind);
    return line && line->on && !line->adjustment->isOff();
}

void copyPrepared(const Take &from, Take &to, std::string_view kind)
{
    const AdjustmentLine *line = lineOf(from.prepare, kind);
    const AdjustmentRef plain = preparedBy({}, kind);
    to = withPrepared(std::move(to), line && line->on ? line->adjustment : plain);
}

void copyFinished(const Take &from, Take &to, std::string_view kind)
{
    const AdjustmentLine *line = lineOf(from.finish, kind);
    if (!line || !line->on) {
        std::erase_if(to.finish,
                      [&](const AdjustmentLine &each) { return each.adjustment->kind() == kind; });
        return;
    }
    uint64_t id = 0;
    to = withFinished(std::move(to), line->adjustment, &id);
    to = withLine(std::move(to), id, [](AdjustmentLine &each) { each.on = true; });
}

/// Width to height of what leaves; 0: of all of it.
double cropRatio(const Take &take, int width, int height)
{
    if (take.geometry.crop.isEmpty() || width <= 0)
        return 0;
    const PictureRect rect = pictureOf(take, width, height).rect();
    return double(rect.width()) / rect.height();
}

void copyLooks(const Take &from, Take &to)
{
    static const Keep plain;
    for (Keep &keep : to.keeps) {
        const Keep *like = from.findKeep(keep.name);
        if (!like)
            like = from.keeps.empty() ? &plain : &from.keeps.front();
        keep.look = like->look;
        keep.glow = like->glow;
    }
}

bool isLooked(const Keep &keep)
{
    return !(keep.look == ColourLook()) || keep.glow.strength > 0;
}

struct GroupRow : TakeGroup {
    void (*copy)(const Carrier &by, const Take &from, Take &to);
    /// What a preset keeps of it; null: what copy() takes.
    void (*hold)(const Take &from, Take &to) = nullptr;
};

/// A line of the finish, by its kind.
template <class Values>
constexpr GroupRow finishRow()
{
    return {
        {Values::kKind, [](const Take &take) { return isLineSet(take.finish, Values::kKind); }},
        [](const Carrier &, const Take &from, Take &to) { copyFinished(from, to, Values::kKind); }};
}

void copyCrop(const Carrier &by, const Take &from, Take &to)
{
    const double ratio = cropRatio(from, by.preset.width, by.preset.height);
    to = withCropRatio(std::move(to), ratio, by.use.width, by.use.height);
}

void copyLens(const Carrier &, const Take &from, Take &to)
{
    copyPrepared(from, to, Lens::kKind);
}

void copyLight(const Carrier &, const Take &from, Take &to)
{
    for (const std::string_view kind : {PhotoLight::kKind, Sharpness::kKind, Noise::kKind})
        copyPrepared(from, to, kind);
}

bool isLightSet(const Take &take)
{
    return isLineSet(take.prepare, PhotoLight::kKind) ||
           isLineSet(take.prepare, Sharpness::kKind) || isLineSet(take.prepare, Noise::kKind);
}

void copyGrey(const Carrier &, const Take &from, Take &to)
{
    const Toning toning = to.grey.toning;
    to.grey = from.grey;
    to.grey.toning = toning;
    to.greyOn = from.greyOn;
}

void copyKeeps(const Carrier &by, const Take &from, Take &to)
{
    // The empty keep that waits in a new take makes room.
    if (!from.keeps.empty())
        std::erase_if(to.keeps,
                      [](const Keep &keep) { return keep.steps.empty() && !keep.invert; });
    for (const Keep &keep : from.keeps) {
        Keep made = by.carried(keep, to);
        if (const Keep *there = to.findKeep(keep.name)) { // its look is another group's
            made.look = there->look;
            made.glow = there->glow;
        }
        put(to.keeps, std::move(made));
    }
}

void copyTones(const Carrier &by, const Take &from, Take &to)
{
    to.tones.clear();
    for (const LocalTone &tone : from.tones)
        to.tones.push_back(by.carried(tone, to));
}

void holdKeeps(const Take &from, Take &to)
{
    to.keeps = from.keeps;
    for (Keep &keep : to.keeps) {
        keep.look = {};
        keep.glow = {};
    }
}

/// On keeps without masks, where those are not held.
void holdLooks(const Take &from, Take &to)
{
    if (to.keeps.empty()) {
        to.keeps = from.keeps;
        for (Keep &keep : to.keeps)
            static_cast<Mask &>(keep) = {};
    }
    copyLooks(from, to);
}

constexpr GroupRow kGroups[] = {
    {{"crop", [](const Take &take) { return !take.geometry.crop.isEmpty(); }},
     copyCrop,
     [](const Take &from, Take &to) { to.geometry = from.geometry; }},
    {{"lens", [](const Take &take) { return isLineSet(take.prepare, Lens::kKind); }}, copyLens},
    {{"light", isLightSet}, copyLight},
    {{"grey", [](const Take &) { return true; }}, copyGrey},
    {{"toning", [](const Take &take) { return !take.grey.toning.isOff(); }},
     [](const Carrier &, const Take &from, Take &to) { to.grey.toning = from.grey.toning; }},
    {{"keeps",
      [](const Take &take) {
          return std::any_of(take.keeps.begin(), take.keeps.end(),
                             [](const Keep &keep) { return !keep.steps.empty(); });
      }},
     copyKeeps,
     holdKeeps},
    {{"look",
      [](const Take &take) { return std::any_of(take.keeps.begin(), take.keeps.end(), isLooked); }},
     [](const Carrier &, const Take &from, Take &to) { copyLooks(from, to); },
     holdLooks},
    {{"tones", [](const Take &take) { return !take.tones.empty(); }},
     copyTones,
     [](const Take &from, Take &to) { to.tones = from.tones; }},
    finishRow<Vignette>(),
    finishRow<Grain>(),
    finishRow<ToneColours>(),
    finishRow<Frame>(),
    finishRow<Signature>()};

const GroupRow *findGroup(std::string_view id)
{
    const auto row = std::find_if(std::begin(kGroups), std::end(kGroups),
                                  [&](const GroupRow &each) { return each.id == id; });
    return row == std::end(kGroups) ? nullptr : row;
}

bool holds(const Preset &preset, std::string_view group)
{
    return std::find(preset.groups.begin(), preset.groups.end(), group) != preset.groups.end();
}

/// Lines of the finish that a preset brings follow each other as they do in the take they come
/// from: another order is another picture.
void followOrder(const Preset &preset, const Take &from, Take &to)
{
    std::vector<AdjustmentLine *> places;
    for (AdjustmentLine &line : to.finish)
        if (holds(preset, line.adjustment->kind()) && lineOf(from.finish, line.adjustment->kind()))
            places.push_back(&line);
    std::vector<AdjustmentLine> lines;
    for (const AdjustmentLine *place : places)
        lines.push_back(*place);
    std::stable_sort(lines.begin(), lines.end(),
                     [&](const AdjustmentLine &a, const AdjustmentLine &b) {
                         return lineOf(from.finish, a.adjustment->kind()) <
                                lineOf(from.finish, b.adjustment->kind());
                     });
    for (size_t i = 0; i < lines.size(); ++i)
        *places[i] = std::move(lines[i]);
}

} // namespace

std::span<const TakeGroup> takeGroups()
{
    static const auto kPlain = [] {
        std::array<TakeGroup, std::size(kGroups)> out;
        std::copy(std::begin(kGroups), std::end(kGroups), out.begin());
        return out;
    }();
    return kPlain;
}

bool isTakeGroup(std::string_view id)
{
    return findGroup(id) || (id.starts_with(kOfTone) && id.size() > kOfTone.size());
}

Preset presetOf(const Take &take, std::vector<std::string> groups, std::string name, int width,
                int height)
{
    Preset out{std::move(name), std::move(groups), {}, width, height, {}, {}};
    Take &held = out.take;
    held.name = out.name;
    held.nextId = take.nextId;
    const PresetUse same{width, height, true, {}};
    std::vector<CarriedStep> ignored;
    const Carrier by{out, same, ignored};
    for (const GroupRow &row : kGroups)
        if (holds(out, row.id))
            row.hold ? row.hold(take, held) : row.copy(by, take, held);
    followOrder(out, take, held);
    for (const LocalTone &tone : take.tones)
        if (holds(out, std::string(kOfTone) + tone.name))
            put(held.tones, tone);
    if (held.keeps.empty() && held.tones.empty() && held.geometry.isPlain())
        out.width = out.height = 0; // nothing of it is placed
    return out;
}

Preset presetOf(const Take &take, std::vector<std::string> groups, std::string name,
                const PhotoLevels &levels)
{
    Preset out = presetOf(take, std::move(groups), std::move(name), levels.photo().width,
                          levels.photo().height);
    const auto note = [&](const auto &lines) {
        for (const MaskedLine &line : lines)
            if (const auto seen = line.steps.empty() ? std::nullopt : seenPart(levels, line))
                out.seen.emplace(line.name, *seen);
    };
    note(out.take.keeps);
    note(out.take.tones);
    return out;
}

Preset plainPreset(std::vector<std::string> groups, std::string name)
{
    return {std::move(name), std::move(groups), {}, 0, 0, {}, {}};
}

std::string_view toWord(CarriedStep::How how)
{
    constexpr std::string_view kWords[] = {"same", "found", "placed", "left-out", "not-found"};
    return kWords[size_t(how)];
}

Take withPreset(Take take, const Preset &preset, const PresetUse &use,
                std::vector<CarriedStep> &report)
{
    const Carrier by{preset, use, report};
    // In the ticket's order, whatever the preset's: looks go onto keeps that are there by then.
    for (const GroupRow &row : kGroups)
        if (holds(preset, row.id))
            row.copy(by, preset.take, take);
    followOrder(preset, preset.take, take);
    for (const LocalTone &tone : preset.take.tones)
        if (holds(preset, std::string(kOfTone) + tone.name))
            put(take.tones, by.carried(tone, take));
    return take;
}

Take withCropRatio(Take take, double ratio, int photoWidth, int photoHeight)
{
    const auto mapOf = [&] { return pictureOf(take, photoWidth, photoHeight); };
    const PictureRect now = mapOf().rect();
    take.geometry.crop = {};
    if (!(ratio > 0))
        return take;
    const PictureMap map = mapOf();
    const PictureRect whole = map.rect();
    const double width = std::min(double(whole.width()), whole.height() * ratio);
    const double height = std::min(double(whole.height()), width / ratio);
    const auto place = [](double middle, double length, int begin, int end) {
        const int from = std::clamp(int(std::lround(middle - length / 2)), begin,
                                    std::max(begin, end - int(std::lround(length))));
        return std::pair(from, std::min(end, from + std::max(1, int(std::lround(length)))));
    };
    const auto [x0, x1] = place((now.x0 + now.x1) / 2.0, width, whole.x0, whole.x1);
    const auto [y0, y1] = place((now.y0 + now.y1) / 2.0, height, whole.y0, whole.y1);
    take.geometry.crop = map.toLevelled(PictureRect{x0, y0, x1, y1});
    return withFilledCrop(std::move(take), photoWidth, photoHeight);
}

} // namespace buttonhole

#include "document/take.h"

#include "light/lens.h"
#include "light/mends.h"
#include "light/photo_light.h"

#include <algorithm>
#include <cmath>
#include <map>

namespace buttonhole
{

const Keep *Take::findKeep(uint64_t keepId) const
{
    const auto it =
        std::find_if(keeps.begin(), keeps.end(), [&](const Keep &k) { return k.id == keepId; });
    return it == keeps.end() ? nullptr : &*it;
}

const Keep *Take::findKeep(const std::string &keepName) const
{
    const auto it =
        std::find_if(keeps.begin(), keeps.end(), [&](const Keep &k) { return k.name == keepName; });
    return it == keeps.end() ? nullptr : &*it;
}

void Take::visitPlanes(const std::function<void(const MaskPlane &)> &visit) const
{
    visitMasks([&](const Mask &mask) {
        for (const Step &step : mask.steps)
            step.shape->visitPlanes(visit);
    });
}

void Take::visitMasks(const std::function<void(const Mask &)> &visit) const
{
    for (const Keep &keep : keeps)
        visit(keep);
    for (const LocalTone &tone : tones)
        visit(tone);
}

const LocalTone *Take::findTone(uint64_t toneId) const
{
    const auto it = std::find_if(tones.begin(), tones.end(),
                                 [&](const LocalTone &tone) { return tone.id == toneId; });
    return it == tones.end() ? nullptr : &*it;
}

const AdjustmentLine *Take::findLine(uint64_t lineId) const
{
    for (const auto *lines : {&prepare, &finish})
        for (const AdjustmentLine &line : *lines)
            if (line.id == lineId)
                return &line;
    return nullptr;
}

bool hasSoftEdges(const Take &take)
{
    const auto isSoft = [](const auto &each) { return each.on && !each.softBand().isNone(); };
    return std::any_of(take.keeps.begin(), take.keeps.end(), isSoft) ||
           std::any_of(take.tones.begin(), take.tones.end(), isSoft);
}

namespace
{

uint64_t contentOf(const AdjustmentLine &line)
{
    return line.adjustment ? line.adjustment->content() : 0;
}

uint64_t contentOf(const LocalTone &tone)
{
    uint64_t content = contentOf(tone, localToneParams(), shapedContent(tone));
    for (const AdjustmentRef &effect : tone.effects)
        content = joinedContent(content, effect->content());
    return content;
}

template <class Lines>
bool areSame(const Lines &a, const Lines &b)
{
    return std::equal(a.begin(), a.end(), b.begin(), b.end(), [](const auto &x, const auto &y) {
        return x.on == y.on && contentOf(x) == contentOf(y);
    });
}

} // namespace

TakeChange changeBetween(const Take &before, const Take &after)
{
    return {!areSame(before.prepare, after.prepare),
            before.greyOn != after.greyOn || !(before.grey == after.grey),
            !areSame(before.keeps, after.keeps),
            !areSame(before.tones, after.tones),
            !(before.geometry == after.geometry) || !(distortionOf(before) == distortionOf(after)),
            !areSame(before.finish, after.finish)};
}

Take makeTake()
{
    Take take;
    Keep keep;
    keep.id = take.nextId++;
    keep.name = "Keep 1";
    take.keeps.push_back(std::move(keep));
    return take;
}

Work Work::with(Take take) const
{
    Work next = *this;
    next.takes[current] = std::make_shared<const Take>(std::move(take));
    return next;
}

Work makeWork()
{
    return {{std::make_shared<const Take>(makeTake())}, 0};
}

Take withKeep(Take take, uint64_t keepId, const std::function<void(Keep &)> &change)
{
    for (Keep &keep : take.keeps)
        if (keep.id == keepId)
            change(keep);
    return take;
}

Take withTone(Take take, uint64_t toneId, const std::function<void(LocalTone &)> &change)
{
    for (LocalTone &tone : take.tones)
        if (tone.id == toneId)
            change(tone);
    return take;
}

Take withNewTone(Take take, LocalTone tone, uint64_t *toneId)
{
    tone.id = take.nextId++;
    for (int n = 1; tone.name.empty(); ++n) {
        const std::string free = "Local " + std::to_string(n);
        if (std::none_of(take.tones.begin(), take.tones.end(),
                         [&](const LocalTone &each) { return each.name == free; }))
            tone.name = free;
    }
    for (Step &step : tone.steps)
        step.id = take.nextId++;
    if (toneId)
        *toneId = tone.id;
    take.tones.push_back(std::move(tone));
    return take;
}

Take withoutTone(Take take, uint64_t toneId)
{
    std::erase_if(take.tones, [&](const LocalTone &tone) { return tone.id == toneId; });
    return take;
}

Take withLine(Take take, uint64_t lineId, const std::function<void(AdjustmentLine &)> &change)
{
    for (auto *lines : {&take.prepare, &take.finish})
        for (AdjustmentLine &line : *lines)
            if (line.id == lineId)
                change(line);
    return take;
}

AdjustmentRef preparedBy(const Take &take, std::string_view kind)
{
    for (const AdjustmentLine &line : take.prepare)
        if (line.adjustment->kind() == kind)
            return line.adjustment;
    const AdjustmentKind *known = adjustmentKinds().find(kind);
    return known ? known->initial : nullptr;
}

Radial distortionOf(const Take &take)
{
    for (const AdjustmentLine &line : take.prepare)
        if (const auto *lens = dynamic_cast<const Lens *>(line.adjustment.get()); lens && line.on)
            return lens->distortion();
    return {};
}

PictureMap pictureOf(const Take &take, int photoWidth, int photoHeight)
{
    return {take.geometry, photoWidth, photoHeight, distortionOf(take)};
}

Take withFilledCrop(Take take, int photoWidth, int photoHeight)
{
    Rect &crop = take.geometry.crop;
    if (!crop.isEmpty())
        crop = pictureOf(take, photoWidth, photoHeight).warp().filledPart(crop);
    return take;
}

const std::vector<SpotMend> &mendsOf(const Take &take)
{
    static const std::vector<SpotMend> none;
    for (const AdjustmentLine &line : take.prepare)
        if (const auto *mends = dynamic_cast<const Mends *>(line.adjustment.get()))
            return mends->spots();
    return none;
}

Take withMends(Take take, std::vector<SpotMend> mends)
{
    return withPrepared(std::move(take), std::make_shared<const Mends>(std::move(mends)));
}

Result<Take> withFoundSpots(Take take, const PhotoLevels &levels, const Run &run)
{
    const auto found = findSpots(levels, run);
    if (!found)
        return found.error();
    std::vector<SpotMend> mends = mendsOf(take);
    for (const Spot &spot : *found) {
        const bool isMended = std::any_of(mends.begin(), mends.end(), [&](const SpotMend &mend) {
            return std::hypot(mend.spot.x - spot.x, mend.spot.y - spot.y) <
                   std::max(mend.spot.radiusPx, spot.radiusPx);
        });
        if (!isMended && mends.size() < Mends::kMost)
            mends.push_back({spot, findSpotSource(levels, spot, *found)});
    }
    return withMends(std::move(take), std::move(mends));
}

Take withAutoLight(Take take, const PhotoLevels &levels)
{
    const auto now = std::dynamic_pointer_cast<const NumberAdjustment<PhotoLight>>(
        preparedBy(take, PhotoLight::kKind));
    return withPrepared(std::move(take), std::make_shared<const NumberAdjustment<PhotoLight>>(
                                             autoLight(levels, now->values())));
}

Take withPrepared(Take take, const AdjustmentRef &adjustment)
{
    const auto isOne = [&](const AdjustmentLine &line) {
        return line.adjustment->kind() == adjustment->kind();
    };
    const auto at = std::find_if(take.prepare.begin(), take.prepare.end(), isOne);
    if (adjustment->isOff()) {
        std::erase_if(take.prepare, isOne);
    } else if (at != take.prepare.end()) {
        at->adjustment = adjustment;
    } else {
        const bool on =
            take.prepare.empty() || std::any_of(take.prepare.begin(), take.prepare.end(),
                                                [](const AdjustmentLine &line) { return line.on; });
        const auto rankOf = [](std::string_view kind) {
            const auto kinds = adjustmentKinds().all();
            return std::find_if(kinds.begin(), kinds.end(),
                                [&](const AdjustmentKind *each) { return each->id == kind; }) -
                   kinds.begin();
        };
        const auto rank = rankOf(adjustment->kind());
        const auto next =
            std::find_if(take.prepare.begin(), take.prepare.end(), [&](const AdjustmentLine &line) {
                return rankOf(line.adjustment->kind()) > rank;
            });
        take.prepare.insert(next, {take.nextId++, on, adjustment});
    }
    return take;
}

Take withoutLine(Take take, uint64_t lineId)
{
    for (auto *lines : {&take.prepare, &take.finish})
        std::erase_if(*lines, [&](const AdjustmentLine &line) { return line.id == lineId; });
    return take;
}

Take withStep(Take take, uint64_t keepId, uint64_t stepId,
              const std::function<void(Step &)> &change)
{
    return withKeep(std::move(take), keepId, [&](Keep &keep) {
        for (Step &step : keep.steps)
            if (step.id == stepId)
                change(step);
    });
}

Take withNewStep(Take take, uint64_t keepId, Sign sign, std::shared_ptr<const StepShape> shape,
                 uint64_t *stepId)
{
    const uint64_t id = take.nextId++;
    if (stepId)
        *stepId = id;
    return withKeep(std::move(take), keepId, [&](Keep &keep) {
        keep.steps.push_back({id, sign, true, std::move(shape)});
    });
}

Take withNewKeep(Take take, std::string name, uint64_t *keepId)
{
    for (int n = 1; name.empty(); ++n) {
        const std::string free = "Keep " + std::to_string(n);
        if (!take.findKeep(free))
            name = free;
    }
    Keep keep;
    keep.id = take.nextId++;
    keep.name = std::move(name);
    if (keepId)
        *keepId = keep.id;
    take.keeps.push_back(std::move(keep));
    return take;
}

Take withCopyOfKeep(Take take, uint64_t keepId, uint64_t *newId)
{
    const auto it = std::find_if(take.keeps.begin(), take.keeps.end(),
                                 [&](const Keep &keep) { return keep.id == keepId; });
    if (it == take.keeps.end())
        return take;
    Keep copy = *it;
    copy.id = take.nextId++;
    std::map<uint64_t, uint64_t> newIds;
    for (Step &step : copy.steps) {
        newIds[step.id] = take.nextId;
        step.id = take.nextId++;
    }
    for (Step &step : copy.steps)
        if (const auto renamed = newIds.find(step.insideOf); renamed != newIds.end())
            step.insideOf = renamed->second;
    const std::string base = copy.name;
    for (int n = 2; take.findKeep(copy.name); ++n)
        copy.name = base + " " + std::to_string(n);
    if (newId)
        *newId = copy.id;
    take.keeps.insert(it + 1, std::move(copy));
    return take;
}

Take withoutKeep(Take take, uint64_t keepId)
{
    std::erase_if(take.keeps, [&](const Keep &keep) { return keep.id == keepId; });
    return take;
}

Take withKeepAt(Take take, uint64_t keepId, int index)
{
    const Keep *found = take.findKeep(keepId);
    if (!found)
        return take;
    Keep keep = *found;
    take = withoutKeep(std::move(take), keepId);
    take.keeps.insert(take.keeps.begin() + std::clamp(index, 0, int(take.keeps.size())),
                      std::move(keep));
    return take;
}

Take withStepAt(Take take, uint64_t keepId, uint64_t stepId, uint64_t toKeepId, int index)
{
    const Keep *from = take.findKeep(keepId);
    const Step *found = from ? from->findStep(stepId) : nullptr;
    if (!found || !take.findKeep(toKeepId))
        return take;
    Step step = *found;
    take = withoutStep(std::move(take), keepId, stepId);
    return withKeep(std::move(take), toKeepId, [&](Keep &keep) {
        keep.steps.insert(keep.steps.begin() + std::clamp(index, 0, int(keep.steps.size())), step);
    });
}

Take withCopyOfStep(Take take, uint64_t keepId, uint64_t stepId, uint64_t toKeepId, uint64_t *newId)
{
    const Keep *from = take.findKeep(keepId);
    const Step *found = from ? from->findStep(stepId) : nullptr;
    if (!found)
        return take;
    Step copy = *found;
    copy.id = take.nextId++;
    if (newId)
        *newId = copy.id;
    return withKeep(std::move(take), toKeepId, [&](Keep &keep) { keep.steps.push_back(copy); });
}

Take withoutStep(Take take, uint64_t keepId, uint64_t stepId)
{
    return withKeep(std::move(take), keepId, [&](Keep &keep) {
        std::erase_if(keep.steps, [&](const Step &step) { return step.id == stepId; });
    });
}

Take withoutSteps(Take take, uint64_t keepId)
{
    return withKeep(std::move(take), keepId, [](Keep &keep) {
        keep.steps.clear();
        keep.invert = false;
    });
}

} // namespace buttonhole

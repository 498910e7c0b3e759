#include "document/take.h"

#include "light/lens.h"
#include "light/mends.h"
#include "light/photo_light.h"

#include <algorithm>
#include <cmath>
#include <map>

namespace buttonhole
{

namespace
{

template <class T>
const T *findIn(const std::vector<T> &lines, uint64_t id)
{
    const auto it =
        std::find_if(lines.begin(), lines.end(), [&](const T &line) { return line.id == id; });
    return it == lines.end() ? nullptr : &*it;
}

template <class T, class Change>
void changeIn(std::vector<T> &lines, uint64_t id, const Change &change)
{
    for (T &line : lines)
        if (line.id == id)
            change(line);
}

/// A name that none of them has: "Keep 3".
template <class T>
std::string freeName(const std::vector<T> &lines, const std::string &word)
{
    for (int n = 1;; ++n) {
        std::string free = word + " " + std::to_string(n);
        if (std::none_of(lines.begin(), lines.end(),
                         [&](const T &line) { return line.name == free; }))
            return free;
    }
}

/// Steps get ids of their own, and those that act inside one of them still do.
void giveIds(Take &take, std::vector<Step> &steps)
{
    std::map<uint64_t, uint64_t> newIds;
    for (Step &step : steps) {
        newIds[step.id] = take.nextId;
        step.id = take.nextId++;
    }
    for (Step &step : steps)
        if (const auto renamed = newIds.find(step.insideOf); renamed != newIds.end())
            step.insideOf = renamed->second;
}

/// Appends a line with its steps, ids of its own for all.
template <class T>
uint64_t append(Take &take, std::vector<T> &lines, T line, const char *word)
{
    if (line.name.empty())
        line.name = freeName(lines, word);
    line.id = take.nextId++;
    giveIds(take, line.steps);
    lines.push_back(std::move(line));
    return lines.back().id;
}

} // namespace

const Keep *Take::findKeep(uint64_t keepId) const
{
    return findIn(keeps, keepId);
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
    for (const Removal &removal : removals)
        if (removal.patch) {
            visit(removal.patch->where);
            for (const MaskPlane &plane : removal.patch->roots)
                visit(plane);
        }
}

void Take::visitMasks(const std::function<void(const Mask &)> &visit) const
{
    for (const Keep &keep : keeps)
        visit(keep);
    for (const LocalTone &tone : tones)
        visit(tone);
    for (const Removal &removal : removals)
        visit(removal);
}

const LocalTone *Take::findTone(uint64_t toneId) const
{
    return findIn(tones, toneId);
}

const Removal *Take::findRemoval(uint64_t removalId) const
{
    return findIn(removals, removalId);
}

const MaskedLine *Take::findMasked(uint64_t lineId) const
{
    if (const Keep *keep = findKeep(lineId))
        return keep;
    if (const LocalTone *tone = findTone(lineId))
        return tone;
    return findRemoval(lineId);
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
    content = joinedContent(content, uint64_t(tone.actsOn));
    for (const AdjustmentRef &effect : tone.effects)
        content = joinedContent(content, effect->content());
    return content;
}

uint64_t contentOf(const Removal &removal)
{
    return removal.patch ? joinedContent(removal.patch->content, {removal.strength}) : 0;
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
    return {!areSame(before.prepare, after.prepare) || !areSame(before.removals, after.removals),
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

Work withHeadroom(Work work, float moreEv)
{
    using Light = NumberAdjustment<PhotoLight>;
    if (moreEv == 0)
        return work;
    for (auto &take : work.takes) {
        const auto now = preparedBy(*take, PhotoLight::kKind);
        PhotoLight light = static_cast<const Light &>(*now).values();
        light.exposureEv = std::clamp(light.exposureEv + moreEv, -5.0F, 5.0F);
        take =
            std::make_shared<const Take>(withPrepared(*take, std::make_shared<const Light>(light)));
    }
    return work;
}

Work makeWork(const Photo &photo)
{
    return withHeadroom(makeWork(), photo.headroomEv);
}

Take withKeep(Take take, uint64_t keepId, const std::function<void(Keep &)> &change)
{
    changeIn(take.keeps, keepId, change);
    return take;
}

Take withTone(Take take, uint64_t toneId, const std::function<void(LocalTone &)> &change)
{
    changeIn(take.tones, toneId, change);
    return take;
}

Take withRemoval(Take take, uint64_t removalId, const std::function<void(Removal &)> &change)
{
    changeIn(take.removals, removalId, change);
    return take;
}

Take withMasked(Take take, uint64_t lineId, const std::function<void(MaskedLine &)> &change)
{
    changeIn(take.keeps, lineId, change);
    changeIn(take.tones, lineId, change);
    changeIn(take.removals, lineId, change);
    return take;
}

Take withNewTone(Take take, LocalTone tone, uint64_t *toneId)
{
    const uint64_t id = append(take, take.tones, std::move(tone), "Local");
    if (toneId)
        *toneId = id;
    return take;
}

Take withoutTone(Take take, uint64_t toneId)
{
    std::erase_if(take.tones, [&](const LocalTone &tone) { return tone.id == toneId; });
    return take;
}

Take withNewRemoval(Take take, Removal removal, uint64_t *removalId)
{
    const uint64_t id = append(take, take.removals, std::move(removal), "Removal");
    if (removalId)
        *removalId = id;
    return take;
}

Take withoutRemoval(Take take, uint64_t removalId)
{
    std::erase_if(take.removals, [&](const Removal &each) { return each.id == removalId; });
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

Take withFinished(Take take, const AdjustmentRef &adjustment, uint64_t *lineId)
{
    auto at = std::find_if(take.finish.begin(), take.finish.end(), [&](const AdjustmentLine &line) {
        return line.adjustment->kind() == adjustment->kind();
    });
    if (at == take.finish.end())
        at = take.finish.insert(at, {take.nextId++, true, adjustment});
    at->adjustment = adjustment;
    if (lineId)
        *lineId = at->id;
    return take;
}

Take withoutLine(Take take, uint64_t lineId)
{
    for (auto *lines : {&take.prepare, &take.finish})
        std::erase_if(*lines, [&](const AdjustmentLine &line) { return line.id == lineId; });
    return take;
}

Take withStep(Take take, uint64_t lineId, uint64_t stepId,
              const std::function<void(Step &)> &change)
{
    return withMasked(std::move(take), lineId,
                      [&](MaskedLine &line) { changeIn(line.steps, stepId, change); });
}

Take withNewStep(Take take, uint64_t lineId, Sign sign, std::shared_ptr<const StepShape> shape,
                 uint64_t *stepId)
{
    const uint64_t id = take.nextId++;
    if (stepId)
        *stepId = id;
    return withMasked(std::move(take), lineId, [&](MaskedLine &line) {
        line.steps.push_back({id, sign, true, std::move(shape)});
    });
}

Take withNewKeep(Take take, std::string name, uint64_t *keepId)
{
    Keep keep;
    keep.name = std::move(name);
    const uint64_t id = append(take, take.keeps, std::move(keep), "Keep");
    if (keepId)
        *keepId = id;
    return take;
}

namespace
{

template <class T>
void copyIn(Take &take, std::vector<T> &lines, uint64_t id, uint64_t *newId)
{
    const auto it =
        std::find_if(lines.begin(), lines.end(), [&](const T &line) { return line.id == id; });
    if (it == lines.end())
        return;
    T copy = *it;
    copy.id = take.nextId++;
    giveIds(take, copy.steps);
    const std::string base = copy.name;
    for (int n = 2; std::any_of(lines.begin(), lines.end(),
                                [&](const T &line) { return line.name == copy.name; });
         ++n)
        copy.name = base + " " + std::to_string(n);
    if (newId)
        *newId = copy.id;
    lines.insert(it + 1, std::move(copy));
}

template <class T>
void moveIn(std::vector<T> &lines, uint64_t id, int index)
{
    const T *found = findIn(lines, id);
    if (!found)
        return;
    T line = *found;
    std::erase_if(lines, [&](const T &each) { return each.id == id; });
    lines.insert(lines.begin() + std::clamp(index, 0, int(lines.size())), std::move(line));
}

} // namespace

Take withCopyOfKeep(Take take, uint64_t keepId, uint64_t *newId)
{
    copyIn(take, take.keeps, keepId, newId);
    return take;
}

Take withCopyOfTone(Take take, uint64_t toneId, uint64_t *newId)
{
    copyIn(take, take.tones, toneId, newId);
    return take;
}

Take withToneAt(Take take, uint64_t toneId, int index)
{
    moveIn(take.tones, toneId, index);
    return take;
}

Take withoutKeep(Take take, uint64_t keepId)
{
    std::erase_if(take.keeps, [&](const Keep &keep) { return keep.id == keepId; });
    return take;
}

Take withKeepAt(Take take, uint64_t keepId, int index)
{
    moveIn(take.keeps, keepId, index);
    return take;
}

Take withStepAt(Take take, uint64_t lineId, uint64_t stepId, uint64_t toLineId, int index)
{
    const MaskedLine *from = take.findMasked(lineId);
    const Step *found = from ? from->findStep(stepId) : nullptr;
    if (!found || !take.findMasked(toLineId))
        return take;
    const Step step = *found;
    take = withoutStep(std::move(take), lineId, stepId);
    return withMasked(std::move(take), toLineId, [&](MaskedLine &line) {
        line.steps.insert(line.steps.begin() + std::clamp(index, 0, int(line.steps.size())), step);
    });
}

Take withCopyOfStep(Take take, uint64_t lineId, uint64_t stepId, uint64_t toLineId, uint64_t *newId)
{
    const MaskedLine *from = take.findMasked(lineId);
    const Step *found = from ? from->findStep(stepId) : nullptr;
    if (!found)
        return take;
    Step copy = *found;
    copy.id = take.nextId++;
    if (newId)
        *newId = copy.id;
    return withMasked(std::move(take), toLineId,
                      [&](MaskedLine &line) { line.steps.push_back(copy); });
}

Take withoutStep(Take take, uint64_t lineId, uint64_t stepId)
{
    return withMasked(std::move(take), lineId, [&](MaskedLine &line) {
        std::erase_if(line.steps, [&](const Step &step) { return step.id == stepId; });
    });
}

Take withoutSteps(Take take, uint64_t lineId)
{
    return withMasked(std::move(take), lineId, [](MaskedLine &line) {
        line.steps.clear();
        line.invert = false;
    });
}

} // namespace buttonhole

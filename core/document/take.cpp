#include "document/take.h"

#include <algorithm>
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

// Edits of one of a take's lists of masked lines.

/// @param word of a line without a name: "Keep 3"
template <class T>
Take withNew(Take take, std::vector<T> Take::*list, T line, const char *word, uint64_t *newId)
{
    std::vector<T> &lines = take.*list;
    if (line.name.empty())
        line.name = freeName(lines, word);
    line.id = take.nextId++;
    giveIds(take, line.steps);
    if (newId)
        *newId = line.id;
    lines.push_back(std::move(line));
    return take;
}

template <class T>
Take withCopy(Take take, std::vector<T> Take::*list, uint64_t id, uint64_t *newId)
{
    std::vector<T> &lines = take.*list;
    const auto it =
        std::find_if(lines.begin(), lines.end(), [&](const T &line) { return line.id == id; });
    if (it == lines.end())
        return take;
    T copy = *it;
    copy.id = take.nextId++;
    giveIds(take, copy.steps);
    const std::string base = copy.name;
    const auto isTaken = [&](const T &line) { return line.name == copy.name; };
    for (int n = 2; std::any_of(lines.begin(), lines.end(), isTaken); ++n)
        copy.name = base + " " + std::to_string(n);
    if (newId)
        *newId = copy.id;
    lines.insert(it + 1, std::move(copy));
    return take;
}

template <class T>
Take without(Take take, std::vector<T> Take::*list, uint64_t id)
{
    std::erase_if(take.*list, [&](const T &line) { return line.id == id; });
    return take;
}

template <class T>
Take withAt(Take take, std::vector<T> Take::*list, uint64_t id, int index)
{
    const T *found = findIn(take.*list, id);
    if (!found)
        return take;
    T line = *found;
    take = without(std::move(take), list, id);
    std::vector<T> &lines = take.*list;
    lines.insert(lines.begin() + std::clamp(index, 0, int(lines.size())), std::move(line));
    return take;
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
        if (removal.patch)
            removal.patch->visitPlanes(visit);
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

Take withNewKeep(Take take, std::string name, uint64_t *keepId)
{
    Keep keep;
    keep.name = std::move(name);
    return withNew(std::move(take), &Take::keeps, std::move(keep), "Keep", keepId);
}

Take withCopyOfKeep(Take take, uint64_t keepId, uint64_t *newId)
{
    return withCopy(std::move(take), &Take::keeps, keepId, newId);
}

Take withoutKeep(Take take, uint64_t keepId)
{
    return without(std::move(take), &Take::keeps, keepId);
}

Take withKeepAt(Take take, uint64_t keepId, int index)
{
    return withAt(std::move(take), &Take::keeps, keepId, index);
}

Take withNewTone(Take take, LocalTone tone, uint64_t *toneId)
{
    return withNew(std::move(take), &Take::tones, std::move(tone), "Local", toneId);
}

Take withCopyOfTone(Take take, uint64_t toneId, uint64_t *newId)
{
    return withCopy(std::move(take), &Take::tones, toneId, newId);
}

Take withoutTone(Take take, uint64_t toneId)
{
    return without(std::move(take), &Take::tones, toneId);
}

Take withToneAt(Take take, uint64_t toneId, int index)
{
    return withAt(std::move(take), &Take::tones, toneId, index);
}

Take withNewRemoval(Take take, Removal removal, uint64_t *removalId)
{
    return withNew(std::move(take), &Take::removals, std::move(removal), "Removal", removalId);
}

Take withoutRemoval(Take take, uint64_t removalId)
{
    return without(std::move(take), &Take::removals, removalId);
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

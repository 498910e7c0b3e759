#include "document/take.h"

#include <algorithm>

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
    for (const Keep &keep : keeps)
        for (const Step &step : keep.steps)
            step.shape->visitPlanes(visit);
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

Take withoutStep(Take take, uint64_t keepId, uint64_t stepId)
{
    return withKeep(std::move(take), keepId, [&](Keep &keep) {
        std::erase_if(keep.steps, [&](const Step &step) { return step.id == stepId; });
    });
}

} // namespace buttonhole

#include "document/set_param.h"

#include <cstdlib>
#include <optional>

namespace buttonhole
{

namespace
{

template <class T>
Result<void> setIn(T &value, std::span<const Param<T>> rows, const std::string &id, float number,
                   const std::string &assignment)
{
    std::string known;
    for (const Param<T> &row : rows) {
        known += (known.empty() ? "" : ", ") + std::string(row.id);
        if (id != row.id)
            continue;
        if (!(number >= row.least && number <= row.most))
            return Error{ErrorKind::InvalidArgument, assignment,
                         expectedNumber(row.least, row.most)};
        row.of(value) = number;
        return {};
    }
    return Error{ErrorKind::NotFound, assignment, "there are: " + known};
}

/// Says whether `path` begins so, and takes that off.
bool takeOff(std::string &path, const std::string &begin)
{
    if (path.rfind(begin, 0) != 0)
        return false;
    path.erase(0, begin.size());
    return true;
}

/// "KIND.ID" of one of these. The error of a kind that is not there is the caller's to give.
std::optional<Result<void>> setIn(AdjustmentRef &adjustment, const std::string &path, float number,
                                  const std::string &assignment)
{
    std::string id = path;
    if (!takeOff(id, std::string(adjustment->kind()) + "."))
        return std::nullopt;
    auto changed = withNumber(*adjustment, id, number);
    if (!changed)
        return Result<void>(Error{changed.error().kind, assignment, changed.error().detail});
    adjustment = std::move(*changed);
    return Result<void>();
}

Result<void> setIn(std::vector<AdjustmentLine> &lines, const std::string &path, float number,
                   const std::string &assignment)
{
    std::string known;
    for (AdjustmentLine &line : lines) {
        known += (known.empty() ? "" : ", ") + std::string(line.adjustment->kind());
        if (const auto done = setIn(line.adjustment, path, number, assignment))
            return *done;
    }
    return Error{ErrorKind::NotFound, assignment, "there are: " + known};
}

/// "N.ID" of a mask's steps, counted from 1 as the ticket does.
Result<void> setInStep(std::vector<Step> &steps, const std::string &path, float number,
                       const std::string &assignment)
{
    const size_t dot = path.find('.');
    const std::string place = path.substr(0, dot);
    const auto step = place.size() < 5 && place.find_first_not_of("0123456789") == place.npos
                          ? size_t(std::atoi(place.c_str()))
                          : 0;
    if (step == 0 || step > steps.size() || dot == std::string::npos)
        return Error{ErrorKind::NotFound, assignment,
                     "there are steps 1 to " + std::to_string(steps.size())};
    auto &shape = steps[step - 1].shape;
    const StepKind *kind = stepKinds().find(shape->kind());
    const auto at = placeOf(kind && shape->isUnderstood() ? std::span<const AnyParam>(kind->numbers)
                                                          : std::span<const AnyParam>(),
                            path.substr(dot + 1), number);
    if (!at)
        return Error{at.error().kind, assignment, at.error().detail};
    shape = shape->withNumber(*at, number);
    return {};
}

Result<void> setIn(LocalTone &tone, const std::string &path, float number,
                   const std::string &assignment)
{
    for (AdjustmentRef &effect : tone.effects)
        if (const auto done = setIn(effect, path, number, assignment))
            return *done;
    if (std::string step = path; takeOff(step, "step:"))
        return setInStep(tone.steps, step, number, assignment);
    return setIn(tone, localToneParams(), path, number, assignment);
}

Result<void> setIn(Keep &keep, const std::string &path, float number, const std::string &assignment)
{
    if (std::string step = path; takeOff(step, "step:"))
        return setInStep(keep.steps, step, number, assignment);
    return setIn(keep, keepParams(), path, number, assignment);
}

Result<void> setIn(Removal &removal, const std::string &path, float number,
                   const std::string &assignment)
{
    if (std::string step = path; takeOff(step, "step:"))
        return setInStep(removal.steps, step, number, assignment);
    return setIn(removal, removalParams(), path, number, assignment);
}

/// "NAME.ID" of one of these; names may hold dots.
template <class T>
Result<void> setInNamed(std::vector<T> &list, const std::string &path, float number,
                        const std::string &assignment)
{
    std::string known;
    for (T &each : list) {
        known += (known.empty() ? "" : ", ") + each.name;
        std::string rest = path;
        if (takeOff(rest, each.name + "."))
            return setIn(each, rest, number, assignment);
    }
    return Error{ErrorKind::NotFound, assignment, "there are: " + known};
}

Result<void> setIn(Take &take, std::string path, float number, const std::string &assignment)
{
    if (takeOff(path, "grey.")) {
        auto done = setIn(take.grey, greyParams(), path, number, assignment);
        return done ? check(take.grey) : done;
    }
    if (takeOff(path, "keep:"))
        return setInNamed(take.keeps, path, number, assignment);
    if (takeOff(path, "tone:"))
        return setInNamed(take.tones, path, number, assignment);
    if (takeOff(path, "removal:"))
        return setInNamed(take.removals, path, number, assignment);
    if (takeOff(path, "prepare.")) {
        const std::string kind = path.substr(0, path.find('.'));
        if (AdjustmentRef adjustment = preparedBy(take, kind)) {
            if (auto done = setIn(adjustment, path, number, assignment); done && !*done)
                return *done;
            take = withPrepared(std::move(take), adjustment);
            return {};
        }
        return setIn(take.prepare, path, number, assignment);
    }
    if (takeOff(path, "straighten."))
        return setIn(take.geometry.straightening, Straightening::rows(), path, number, assignment);
    if (takeOff(path, "finish.")) {
        const std::string kind = path.substr(0, path.find('.'));
        const AdjustmentKind *known = adjustmentKinds().find(kind);
        const bool isThere =
            std::any_of(take.finish.begin(), take.finish.end(), [&](const AdjustmentLine &line) {
                return line.adjustment->kind() == kind;
            });
        if (known && !isThere)
            take = withFinished(std::move(take), known->initial);
        return setIn(take.finish, path, number, assignment);
    }
    return Error{ErrorKind::InvalidArgument, assignment,
                 "grey.ID, keep:NAME.ID, keep:NAME.step:N.ID, tone:NAME.ID, tone:NAME.step:N.ID, "
                 "tone:NAME.KIND.ID, removal:NAME.ID, prepare.KIND.ID, straighten.ID or "
                 "finish.KIND.ID is expected"};
}

} // namespace

Result<Take> withParam(Take take, const std::string &assignment)
{
    const size_t equals = assignment.rfind('=');
    char *end = nullptr;
    const std::string text = equals == std::string::npos ? "" : assignment.substr(equals + 1);
    const float number = std::strtof(text.c_str(), &end);
    if (text.empty() || *end != 0)
        return Error{ErrorKind::InvalidArgument, assignment,
                     "what is set is told as ID=NUMBER, e.g. grey.tone.contrast=20"};
    if (auto done = setIn(take, assignment.substr(0, equals), number, assignment); !done)
        return done.error();
    return take;
}

} // namespace buttonhole

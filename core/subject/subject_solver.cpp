#include "subject/subject_solver.h"

#include "subject/focus.h"
#include "subject/net_picture.h"
#include "subject/salient.h"

#include <cmath>

namespace buttonhole
{

namespace
{

constexpr float kLeastTrust = 0.15F;
constexpr float kOvalTrust = 0.8F;
constexpr int kLookEdge = 800; ///< px of the photo's long edge, fine enough for where a thing is

/// 1 in the ovals that fill the boxes, fading to 0 at half as far again.
RegionPrior priorFor(const std::vector<Rect> &ovals, const Rect &photo)
{
    Rect all;
    for (const Rect &oval : ovals)
        all = united(all, oval);
    const Rect area = enlarged(all, 0.5, photo);
    constexpr int kFrameEdge = 200;
    const double px = std::max(area.width(), area.height()) / double(kFrameEdge);
    const int width = std::max(1, int(area.width() / px));
    const int height = std::max(1, int(area.height() / px));
    RegionPrior out{area, Image<float>(width, height, 1), kOvalTrust};
    for (int y = 0; y < height; ++y)
        for (int x = 0; x < width; ++x) {
            double most = 0;
            for (const Rect &oval : ovals) {
                const double dx = (area.x0 + (x + 0.5) * px - (oval.x0 + oval.x1) / 2.0) * 2 /
                                  std::max(oval.width(), 1);
                const double dy = (area.y0 + (y + 0.5) * px - (oval.y0 + oval.y1) / 2.0) * 2 /
                                  std::max(oval.height(), 1);
                most = std::max(most, std::clamp((1.5 - std::hypot(dx, dy)) * 2, 0.0, 1.0));
            }
            *out.inside.pixel(x, y) = float(most);
        }
    return out;
}

/// Of boxes what lies on a photo; a file may hold any, and any number.
std::vector<Rect> cutTo(const Rect &photo, std::vector<Rect> boxes)
{
    constexpr size_t kMost = 40;
    for (Rect &box : boxes)
        box = intersected(box, photo);
    std::erase_if(boxes, [](const Rect &box) { return box.isEmpty(); });
    boxes.resize(std::min(boxes.size(), kMost));
    return boxes;
}

/// The shapes that lie on a photo, or partly.
std::vector<Rect> within(const Rect &photo, std::vector<Rect> shapes)
{
    std::erase_if(shapes, [&](const Rect &shape) { return intersected(shape, photo).isEmpty(); });
    return shapes;
}

/// The smallest thing that the net is sure of at a mark. @return null where there is none
/// Errors: Cancelled.
Result<std::shared_ptr<const RegionPrior>> smallestAt(const PhotoLevels &levels,
                                                      const RegionMark &mark, const Run &run)
{
    const int level = levels.levelWithin(kLookEdge);
    const auto grown = RegionSolver().solve(levels, {{mark}, {}, 0}, run, level);
    if (!grown)
        return grown.error();
    ClickSizes sizes(levels.photo().rect(), mark.points, {});
    const auto started = sizes.startFrom(levels, *grown, level, run);
    auto smallest = started ? sizes.nth(levels, 0, run) : started.error();
    if (!smallest && smallest.error().kind == ErrorKind::Cancelled)
        return smallest.error();
    if (!smallest || !*smallest || !(*smallest)->isAnswer)
        return std::shared_ptr<const RegionPrior>(); // without the models, too
    return smallest;
}

} // namespace

SubjectSolver::Start SubjectSolver::startOf(const PhotoLevels &levels, const RegionAsk &ask,
                                            const SubjectNote &note)
{
    const Rect photo = levels.photo().rect();
    Start out{levels.content(), ask.box, {}, within(photo, note.ovals), cutTo(photo, note.things)};
    const auto first = std::find_if(ask.marks.begin(), ask.marks.end(),
                                    [](const RegionMark &mark) { return !mark.isLeave; });
    if (!ask.box && first != ask.marks.end())
        out.mark = *first;
    return out;
}

Result<SubjectSolver::Prior> SubjectSolver::priorOf(const PhotoLevels &levels, const RegionAsk &ask,
                                                    const Run &run)
{
    if (!ask.box && m_start.ovals.empty()) {
        auto size = sizeOf(levels, ask, run);
        const bool isThere = size && size->sizes > 0;
        const bool isStopped = !size && size.error().kind == ErrorKind::Cancelled;
        if (isThere || isStopped)
            return size;
    }
    if (!m_evidence) {
        auto evidence = evidenceFor(levels, ask, run);
        if (!evidence)
            return evidence;
        m_evidence = std::move(*evidence);
    }
    Prior out = *m_evidence;
    out.reach = out.settled = ask.reach;
    return out;
}

/// What grows from the mark by colour. It is kept: without a prior it is the answer already.
Result<void> SubjectSolver::grow(const PhotoLevels &levels, const Run &run)
{
    if (m_grown)
        return {};
    m_solver.setPriors({});
    auto grown =
        m_solver.solve(levels, {{m_start.mark}, {}, 0}, run, levels.levelWithin(kLookEdge));
    if (!grown)
        return grown.error();
    m_grown = std::move(*grown);
    return {};
}

Result<void> SubjectSolver::beginSizes(const PhotoLevels &levels, const Run &run)
{
    if (!m_sizes.isNew())
        return {};
    if (const auto done = grow(levels, run); !done)
        return done.error();
    return m_sizes.startFrom(levels, *m_grown, levels.levelWithin(kLookEdge), run);
}

/// Sizes from the smallest thing on; below it, what grows by colour.
Result<SubjectSolver::Prior> SubjectSolver::sizeOf(const PhotoLevels &levels, const RegionAsk &ask,
                                                   const Run &run)
{
    if (const auto done = beginSizes(levels, run); !done)
        return done.error();
    const int size = int(std::lround(ask.reach / kReachPerSize));
    auto thing = m_sizes.nth(levels, size_t(std::max(size, 0)), run);
    if (!thing)
        return thing.error();
    Prior out;
    out.usesNet = size >= 0;
    out.sizes = int(m_sizes.count());
    out.settled = ask.reach;
    if (size < 0) {
        out.reach = std::min(ask.reach + kReachPerSize, 0.0F);
    } else if (*thing) {
        out.all = {*thing};
        out.looked = (*thing)->area;
        if (!(*thing)->isAnswer)
            out.box = out.looked;
        out.settled = std::min(ask.reach, float(out.sizes - 1) * kReachPerSize);
    }
    return out;
}

/// What the net and the focus say of the box, or of what grows from the first mark.
Result<SubjectSolver::Prior> SubjectSolver::evidenceFor(const PhotoLevels &levels,
                                                        const RegionAsk &ask, const Run &run)
{
    Prior out;
    const auto add = [&](RegionPrior prior) {
        const bool isTrusted = prior.trust >= kLeastTrust;
        if (isTrusted)
            out.all.push_back(std::make_shared<RegionPrior>(std::move(prior)));
        return isTrusted;
    };
    if (!m_start.ovals.empty()) {
        add(priorFor(m_start.ovals, levels.photo().rect()));
        return out;
    }
    Rect box = ask.box.value_or(Rect{});
    if (!ask.box) {
        if (const auto done = grow(levels, run); !done)
            return done.error();
        box = m_grown->boundsOfOtherThan(0);
    }
    if (box.isEmpty())
        return out;
    auto salient = findSalient(levels, box, run);
    if (!salient && salient.error().kind == ErrorKind::Cancelled)
        return salient.error();
    if (salient) {
        salient->isAnswer = salient->isAnswer && ask.box.has_value();
        out.usesNet = add(std::move(*salient));
    }
    add(findFocus(levels, box));
    return out;
}

/// Where what a box or the first mark holds is; empty: not known.
Rect SubjectSolver::placeOf(const Prior &prior, const RegionAsk &ask) const
{
    if (ask.box)
        return *ask.box;
    if (!prior.looked.isEmpty())
        return prior.looked;
    return m_grown ? m_grown->boundsOfOtherThan(0) : Rect{};
}

/// The things of the marks, as far as they were looked for; forgets those of other marks.
RegionPriors SubjectSolver::addedBy(const RegionAsk &ask)
{
    RegionPriors out;
    while (out.size() < std::min(ask.marks.size(), m_things.size()) &&
           m_things[out.size()].mark == ask.marks[out.size()])
        out.push_back(m_things[out.size()].added);
    m_things.resize(out.size());
    return out;
}

/// Looks for what is added by keep marks that lie beside all before.
/// @param first where the first thing is
Result<void> SubjectSolver::findAdded(const PhotoLevels &levels, const RegionAsk &ask,
                                      const Rect &first, const Run &run)
{
    const auto isIn = [](const RegionMark &mark, const Rect &area) {
        return std::any_of(mark.points.begin(), mark.points.end(), [&](const PhotoPoint &p) {
            return double(p.x) >= area.x0 && double(p.x) < area.x1 && double(p.y) >= area.y0 &&
                   double(p.y) < area.y1;
        });
    };
    for (size_t i = m_things.size(); i < ask.marks.size(); ++i) {
        const RegionMark &mark = ask.marks[i];
        const bool isBeside =
            !mark.isLeave && !mark.points.empty() && !first.isEmpty() && !isIn(mark, first) &&
            std::none_of(m_things.begin(), m_things.end(), [&](const Thing &thing) {
                return thing.added && isIn(mark, thing.added->area);
            });
        Result<std::shared_ptr<const RegionPrior>> added = std::shared_ptr<const RegionPrior>();
        if (isBeside)
            added = smallestAt(levels, mark, run);
        if (!added)
            return added.error();
        m_things.push_back({mark, std::move(*added)});
    }
    return {};
}

void SubjectSolver::begin(const PhotoLevels &levels, const RegionAsk &ask, const SubjectNote &note)
{
    Start start = startOf(levels, ask, note);
    if (start == m_start)
        return;
    m_evidence.reset();
    m_grown.reset();
    m_things.clear();
    m_sizes = ClickSizes(levels.photo().rect(), start.mark.points, start.things);
    m_start = std::move(start);
}

Result<std::optional<MaskPlane>> SubjectSolver::glimpse(const PhotoLevels &levels,
                                                        const RegionAsk &asked,
                                                        const SubjectNote &note, const Run &run,
                                                        int finest)
{
    const RegionAsk ask = within(levels.photo().rect(), asked);
    const bool isFirstClick =
        isSolvable(ask) && !ask.box && note.ovals.empty() && ask.marks.size() == 1;
    if (!isFirstClick)
        return std::optional<MaskPlane>();
    begin(levels, ask, note);
    const auto begun = beginSizes(levels, run);
    const auto seen = begun ? m_sizes.glimpse(levels, run) : begun.error();
    if (!seen)
        return seen.error();
    if (!*seen)
        return std::optional<MaskPlane>();
    RegionSolver solver; // the other one keeps what is settled
    solver.setPriors({*seen});
    auto plane = solver.solve(levels, ask, run, finest);
    if (!plane)
        return plane.error();
    return std::optional(std::move(*plane));
}

Result<MaskPlane> SubjectSolver::preview(const PhotoLevels &levels, const RegionAsk &asked,
                                         const SubjectNote &note, const Run &run, int finest)
{
    const RegionAsk ask = within(levels.photo().rect(), asked);
    const Start start = startOf(levels, ask, note);
    const bool isKnown = start == m_start && (m_evidence || m_sizes.count() > 0);
    if (isKnown || !start.ovals.empty())
        return answer(levels, ask, note, run, {finest, false, nullptr});
    m_solver.setPriors({});
    return m_solver.solve(levels, ask, run, finest);
}

Result<MaskPlane> SubjectSolver::solve(const PhotoLevels &levels, const RegionAsk &asked,
                                       const SubjectNote &note, const Run &run, int finest,
                                       SubjectReport *report)
{
    const RegionAsk ask = within(levels.photo().rect(), asked);
    return answer(levels, ask, note, run, {finest, true, report});
}

Result<MaskPlane> SubjectSolver::answer(const PhotoLevels &levels, RegionAsk ask,
                                        const SubjectNote &note, const Run &run, const How &how)
{
    const Rect photo = levels.photo().rect();
    if (!isSolvable(ask))
        return m_solver.solve(levels, ask, run, how.finest); // says so
    begin(levels, ask, note);
    auto prior = priorOf(levels, ask, run);
    if (!prior)
        return prior.error();
    auto added = addedBy(ask);
    if (how.looksFurther && added.size() < ask.marks.size()) {
        if (const auto done = findAdded(levels, ask, placeOf(*prior, ask), run); !done)
            return done.error();
        added = addedBy(ask);
    }
    if (how.report)
        *how.report = {prior->usesNet, prior->settled, prior->looked};
    const bool knowsNothing = prior->all.empty();
    m_solver.setPriors(std::move(prior->all), std::move(added));
    ask.reach = prior->reach;
    if (prior->box)
        ask.box = prior->box;
    if (ask.box == photo && knowsNothing) { // not at the border
        constexpr int kMargins = 50;
        ask.box = Rect{photo.x1 / kMargins, photo.y1 / kMargins, photo.x1 - photo.x1 / kMargins,
                       photo.y1 - photo.y1 / kMargins};
    }
    return m_solver.solve(levels, ask, run, how.finest);
}

} // namespace buttonhole

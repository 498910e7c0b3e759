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

/// 1 in the ovals that fill the boxes, fading to 0 at half as far again.
RegionPrior priorOf(const std::vector<Rect> &ovals, const Rect &photo)
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

/// What a prior is found for: the box, or the first mark.
RegionAsk startOf(const RegionAsk &ask)
{
    RegionAsk start{{}, ask.box, 0};
    for (const RegionMark &mark : ask.marks)
        if (!ask.box && start.marks.empty() && !mark.isLeave)
            start.marks = {mark};
    return start;
}

/// The shapes that lie on a photo, or partly.
std::vector<Rect> within(const Rect &photo, std::vector<Rect> shapes)
{
    std::erase_if(shapes, [&](const Rect &shape) { return intersected(shape, photo).isEmpty(); });
    return shapes;
}

/// What holds coverage, by tiles.
Rect boundsOf(const MaskPlane &plane)
{
    Rect out;
    const Rect all = plane.rect();
    constexpr int kStep = 32;
    for (int y = 0; y < all.y1; y += kStep)
        for (int x = 0; x < all.x1; x += kStep) {
            const Rect part = intersected(all, {x, y, x + kStep, y + kStep});
            uint16_t value = 0;
            if (!plane.isUniform(part, value) || value > 0)
                out = united(out, part);
        }
    return out;
}

} // namespace

Result<void> SubjectSolver::findPrior(const PhotoLevels &levels, const RegionAsk &ask,
                                      const std::vector<Rect> &ovals, const Run &run)
{
    const RegionAsk start = startOf(ask);
    if (knowsPrior(levels, start, ovals))
        return {};
    RegionPriors priors;
    bool usesNet = false;
    const auto add = [&](RegionPrior prior) {
        const bool isTrusted = prior.trust >= kLeastTrust;
        if (isTrusted)
            priors.push_back(std::make_shared<RegionPrior>(std::move(prior)));
        return isTrusted;
    };
    if (!ovals.empty()) {
        add(priorOf(ovals, levels.photo().rect()));
    } else {
        Rect box = ask.box.value_or(Rect{});
        if (!ask.box) {
            // What grows is kept: without a prior it is the answer already.
            constexpr int kLookEdge = 800;
            m_solver.setPriors({});
            const auto grown = m_solver.solve(levels, start, run, levels.levelWithin(kLookEdge));
            if (!grown)
                return grown.error();
            box = boundsOf(*grown);
        }
        if (!box.isEmpty()) {
            auto salient = findSalient(levels, box, run);
            if (!salient && salient.error().kind == ErrorKind::Cancelled)
                return salient.error();
            if (salient) {
                salient->isAnswer = salient->isAnswer && ask.box.has_value();
                usesNet = add(std::move(*salient));
            }
            add(findFocus(levels, box));
        }
    }
    m_hasPriors = !priors.empty();
    m_usesNet = usesNet;
    m_photo = levels.content();
    m_start = start;
    m_ovals = ovals;
    m_solver.setPriors(std::move(priors));
    return {};
}

bool SubjectSolver::knowsPrior(const PhotoLevels &levels, const RegionAsk &start,
                               const std::vector<Rect> &ovals) const
{
    return m_photo == levels.content() && start == m_start && ovals == m_ovals;
}

Result<MaskPlane> SubjectSolver::preview(const PhotoLevels &levels, const RegionAsk &asked,
                                         const std::vector<Rect> &shapes, const Run &run,
                                         int finest)
{
    const RegionAsk ask = within(levels.photo().rect(), asked);
    const std::vector<Rect> ovals = within(levels.photo().rect(), shapes);
    if (!ovals.empty() || knowsPrior(levels, startOf(ask), ovals))
        return solve(levels, ask, ovals, run, finest);
    m_photo = 0; // the prior is not that of this ask
    m_solver.setPriors({});
    return m_solver.solve(levels, ask, run, finest);
}

Result<MaskPlane> SubjectSolver::solve(const PhotoLevels &levels, const RegionAsk &whole,
                                       const std::vector<Rect> &shapes, const Run &run, int finest,
                                       bool *usedNet)
{
    const RegionAsk ask = within(levels.photo().rect(), whole);
    const std::vector<Rect> ovals = within(levels.photo().rect(), shapes);
    if (isSolvable(ask))
        if (auto done = findPrior(levels, ask, ovals, run); !done)
            return done.error();
    if (usedNet)
        *usedNet = m_usesNet;
    RegionAsk asked = ask;
    const Rect photo = levels.photo().rect();
    if (ask.box == photo && !m_hasPriors) { // nothing is known of it: not at the border
        constexpr int kMargins = 50;
        asked.box = Rect{photo.x1 / kMargins, photo.y1 / kMargins, photo.x1 - photo.x1 / kMargins,
                         photo.y1 - photo.y1 / kMargins};
    }
    return m_solver.solve(levels, asked, run, finest);
}

} // namespace buttonhole

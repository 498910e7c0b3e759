#include "mask/stroke.h"

#include "mask/dab_rows.h"

#include <cmath>

namespace buttonhole
{

namespace
{

constexpr float kSpacing = 0.05F; // of the tip's size; see StrokePainter::addPoint
constexpr float kMinSpacingPx = 0.5F;
constexpr float kLeastPressure = 0.02F; // a pen that barely touches still leaves a mark

float falloffWidth(float softness, float radius)
{
    return std::max(1.0F, softness * radius + (1.0F - softness));
}

float outerRadius(float softness, float radius)
{
    return radius + 0.5F * (1.0F - softness);
}

} // namespace

std::span<const Param<Tip>> tipParams()
{
    constexpr ParamScale kPercent{100};
    static constexpr Param<Tip> kParams[] = {
        {"sizePx",
         [](Tip &t) -> float & { return t.sizePx; },
         kMinTipPx,
         kMaxTipPx,
         1,
         {1, "", 0, ParamScale::Way::Logarithmic}},
        {"softness", [](Tip &t) -> float & { return t.softness; }, 0, 1, 1, kPercent},
        {"flow",
         [](Tip &t) -> float & { return t.flow; },
         0.001F,
         1,
         1,
         {100, "", 0, ParamScale::Way::Even, 0.01F, 1}},
        {"opacity",
         [](Tip &t) -> float & { return t.opacity; },
         0.001F,
         1,
         1,
         {100, "", 0, ParamScale::Way::Even, 0.01F, 1}},
        {"edgeHold", [](Tip &t) -> float & { return t.edgeHold; }, 0, 1, 1, kPercent}};
    return kParams;
}

StrokePoint quantised(StrokePoint point)
{
    return {std::round(point.x * 16.0F) / 16.0F, std::round(point.y * 16.0F) / 16.0F,
            std::round(std::clamp(point.pressure, 0.0F, 1.0F) * 256.0F) / 256.0F};
}

std::string_view toWord(PressureSteers steers)
{
    switch (steers) {
    case PressureSteers::Size:
        return "size";
    case PressureSteers::Flow:
        return "flow";
    case PressureSteers::Softness:
        return "softness";
    case PressureSteers::Nothing:
        break;
    }
    return "nothing";
}

StrokePainter::StrokePainter(BrushPlanes &planes, Stroke stroke, const PhotoLevels *levels)
    : m_planes(planes), m_stroke(std::move(stroke)),
      m_build(planes.lo.width(), planes.lo.height(), 0)
{
    if (levels && m_stroke.tip.edgeHold > 0)
        m_heldStroke.emplace(*levels, m_stroke.tip.sizePx / 2, m_stroke.tip.edgeHold);
}

Rect StrokePainter::Dab::bounds() const
{
    const float reach = radius + 1.0F;
    return {int(std::floor(x - reach)), int(std::floor(y - reach)), int(std::ceil(x + reach)) + 1,
            int(std::ceil(y + reach)) + 1};
}

void StrokePainter::addDab(float x, float y, float pressure)
{
    const Tip &tip = m_stroke.tip;
    const float pushed = std::max(kLeastPressure, pressure);
    const auto steered = [&](PressureSteers what) { return tip.pressure == what ? pushed : 1.0F; };
    // A light touch is soft all through, a firm one as soft as the tip.
    const float softness = 1 - steered(PressureSteers::Softness) * (1 - tip.softness);
    float size = std::max(kMinTipPx, tip.sizePx * steered(PressureSteers::Size));
    if (size < 1.5F && softness == 0.0F) { // exactly the pixel under the pointer
        x = std::floor(x) + 0.5F;
        y = std::floor(y) + 0.5F;
        size = 1.0F;
    }
    const Dab dab{x,
                  y,
                  size / 2,
                  softness,
                  tip.flow * steered(PressureSteers::Flow),
                  m_heldStroke ? heldAt(x, y, size / 2) : nullptr};
    m_dabs.push_back(dab);
    if (m_heldStroke)
        m_unsettled.back().push_back(dab);
}

/// One look serves the dabs near by: its answer reaches that much farther than the tip.
std::shared_ptr<const HeldTip> StrokePainter::heldAt(float x, float y, float radius)
{
    m_heldStroke->moveTo({x, y});
    const float near = (HeldStroke::kReach - 1) * radius;
    if (!m_held || std::hypot(x - m_held->centre.x, y - m_held->centre.y) > near) {
        m_held = std::make_shared<const HeldTip>(m_heldStroke->look());
        m_unsettled.emplace_back();
        if (m_unsettled.size() > HeldStroke::kAhead)
            settleOldest();
    }
    return m_held;
}

/// The dabs of a look once more, where it says by now that more belongs.
void StrokePainter::settleOldest()
{
    const auto more = std::make_shared<const HeldTip>(m_heldStroke->settle());
    for (Dab &dab : m_unsettled.front()) {
        dab.held = more;
        m_dabs.push_back(std::move(dab));
    }
    m_unsettled.pop_front();
}

float StrokePainter::spacing() const
{
    return std::max(kMinSpacingPx, m_stroke.tip.sizePx * kSpacing);
}

void StrokePainter::walk(StrokePoint from, StrokePoint to, float m0x, float m0y, float m1x,
                         float m1y)
{
    const float chord = std::hypot(to.x - from.x, to.y - from.y);
    const float step = spacing();
    const int parts = std::clamp(int(std::ceil(chord / std::max(0.25F, step / 4))), 1, 4096);
    float px = from.x;
    float py = from.y;
    for (int i = 1; i <= parts; ++i) {
        const float t = float(i) / float(parts);
        const float t2 = t * t;
        const float t3 = t2 * t;
        const float h0 = 2 * t3 - 3 * t2 + 1;
        const float h1 = t3 - 2 * t2 + t;
        const float h2 = -2 * t3 + 3 * t2;
        const float h3 = t3 - t2;
        const float x = h0 * from.x + h1 * m0x + h2 * to.x + h3 * m1x;
        const float y = h0 * from.y + h1 * m0y + h2 * to.y + h3 * m1y;
        const float length = std::hypot(x - px, y - py);
        float along = m_untilNext;
        while (along <= length && length > 0) {
            const float s = along / length;
            addDab(px + (x - px) * s, py + (y - py) * s,
                   from.pressure + (to.pressure - from.pressure) * t);
            along += step;
        }
        m_untilNext = along - length;
        px = x;
        py = y;
    }
}

Rect StrokePainter::addPoint(StrokePoint point)
{
    point = quantised(point);
    if (m_stroke.points.empty()) {
        m_stroke.points.push_back(point);
        if (m_stroke.continues) {
            m_untilNext = m_stroke.leadPx;
            return {};
        }
        m_untilNext = spacing();
        addDab(point.x, point.y, point.pressure);
        return paintDabs();
    }
    const StrokePoint last = m_stroke.points.back();
    if (last == point)
        return {};
    m_stroke.points.push_back(point);
    const float dx = point.x - last.x;
    const float dy = point.y - last.y;
    const float chord = std::hypot(dx, dy);
    // The start leaves in the direction of the chord before, so that the path has no corners.
    const float scale = m_hasTangent ? 0.6F * chord : chord;
    walk(last, point, m_hasTangent ? m_tangentX * scale : dx,
         m_hasTangent ? m_tangentY * scale : dy, dx, dy);
    if (chord > 0) {
        m_tangentX = dx / chord;
        m_tangentY = dy / chord;
        m_hasTangent = true;
    }
    return paintDabs();
}

Stroke StrokePainter::cut()
{
    Stroke piece = m_stroke;
    piece.isCut = true;
    const StrokePoint last = m_stroke.points.back();
    m_stroke.points.assign(1, last);
    m_stroke.continues = true;
    m_stroke.leadPx = m_untilNext;
    m_hasTangent = false;
    return piece;
}

Rect StrokePainter::finish()
{
    const float sinceLastDab = spacing() - m_untilNext;
    if (!m_stroke.points.empty() && sinceLastDab >= kMinSpacingPx) {
        const StrokePoint last = m_stroke.points.back();
        addDab(last.x, last.y, last.pressure);
        m_untilNext = spacing();
    }
    while (!m_unsettled.empty())
        settleOldest();
    return paintDabs();
}

Rect StrokePainter::paintDabs()
{
    Rect touched;
    for (const Dab &dab : m_dabs)
        touched = united(touched, dab.bounds());
    touched = intersected(touched, m_build.rect());
    parallelTiles(touched, [&](const Rect &tile) {
        paintTile(tile.x0 / kTileSize, tile.y0 / kTileSize, tile);
    });
    m_dabs.clear();
    return touched;
}

void StrokePainter::layRow(const DabRow &row, const HeldTip *held, int x, int y, uint16_t *build,
                           int n) const
{
    if (!held) {
        layDabRow(row, build, n);
        return;
    }
    uint16_t laid[kTileSize];
    std::copy_n(build, n, laid);
    layDabRow(row, laid, n);
    const Rect &area = held->area;
    if (y < area.y0 || y >= area.y1)
        return;
    const uint8_t *share = held->share.row(y - area.y0);
    for (int i = std::max(0, area.x0 - x); i < std::min(n, area.x1 - x); ++i) {
        const uint32_t more = uint32_t(laid[i] - build[i]) * share[x + i - area.x0];
        build[i] = uint16_t(build[i] + (more + 127) / 255);
    }
}

void StrokePainter::paintTile(int tx, int ty, const Rect &area)
{
    Rect inTile;
    for (const Dab &dab : m_dabs)
        inTile = united(inTile, intersected(dab.bounds(), area));
    if (inTile.isEmpty())
        return;
    uint16_t *build = m_build.writable(tx, ty);
    const auto at = [&](int x, int y) {
        return size_t(y - ty * kTileSize) * kTileSize + size_t(x - tx * kTileSize);
    };
    for (const Dab &dab : m_dabs) {
        const Rect r = intersected(dab.bounds(), area);
        if (r.isEmpty())
            continue;
        DabRow row;
        row.firstDx = float(r.x0) + 0.5F - dab.x;
        row.outer = outerRadius(dab.softness, dab.radius);
        row.perPx = 1.0F / falloffWidth(dab.softness, dab.radius);
        row.flow = dab.flow;
        for (int y = r.y0; y < r.y1; ++y) {
            const float dy = float(y) + 0.5F - dab.y;
            row.dySquared = dy * dy;
            layRow(row, dab.held.get(), r.x0, y, build + at(r.x0, y), r.width());
        }
    }
    // A limit that the stroke cannot move (hi at its top while raising) stays memory-free.
    const auto apply = [&](MaskPlane &plane, uint16_t unmoved) {
        uint16_t value = 0;
        if (plane.isUniform(area, value) && value == unmoved)
            return;
        uint16_t *limit = plane.writable(tx, ty);
        const auto moveRow = m_stroke.takesBack ? lowerRow : raiseRow;
        for (int y = inTile.y0; y < inTile.y1; ++y) {
            const size_t i = at(inTile.x0, y);
            moveRow(build + i, m_stroke.tip.opacity, limit + i, inTile.width());
        }
    };
    const uint16_t unmoved = m_stroke.takesBack ? 0 : 65535;
    apply(m_planes.lo, unmoved);
    apply(m_planes.hi, unmoved);
}

void replayStrokes(const std::vector<std::shared_ptr<const Stroke>> &strokes, BrushPlanes &planes,
                   const PhotoLevels *levels)
{
    std::unique_ptr<StrokePainter> painter;
    for (const auto &stroke : strokes) {
        if (painter && stroke->continues) {
            (void)painter->cut();
        } else {
            Stroke start = *stroke;
            start.points.clear();
            painter = std::make_unique<StrokePainter>(planes, std::move(start), levels);
        }
        const bool follows = stroke->continues && !stroke->points.empty();
        for (size_t i = follows ? 1 : 0; i < stroke->points.size(); ++i)
            (void)painter->addPoint(stroke->points[i]);
        if (!stroke->isCut)
            (void)painter->finish();
    }
    planes.lo.compact(planes.lo.rect());
    planes.hi.compact(planes.hi.rect());
}

} // namespace buttonhole

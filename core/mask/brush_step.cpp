#include "mask/brush_step.h"

#include "mask/step_json.h"

#include <nlohmann/json.hpp>

#include <cmath>

namespace buttonhole
{

namespace
{

using nlohmann::json;

Result<Tip> tipFromJson(const json &in)
{
    Tip tip;
    if (auto fine = paramsFromJson(in, tip, tipParams(), "brush "); !fine)
        return fine.error();
    tip.pressure = PressureSteers::Nothing;
    const std::string pressure = in.value("pressure", "nothing");
    for (const auto steers : {PressureSteers::Size, PressureSteers::Flow, PressureSteers::Softness})
        if (pressure == toWord(steers))
            tip.pressure = steers;
    return tip;
}

Result<Stroke> strokeFromJson(const json &in)
{
    const auto tip = tipFromJson(in);
    if (!tip)
        return tip.error();
    Stroke stroke;
    stroke.tip = *tip;
    stroke.takesBack = in.value("takesBack", false);
    stroke.continues = in.value("continues", false);
    stroke.leadPx = in.value("leadPx", 0.0F);
    stroke.isCut = in.value("cut", false);
    if (!(stroke.leadPx >= 0 && stroke.leadPx <= kMaxTipPx))
        return wrongInput("brush leadPx", "it is out of range");
    if (in.at("points").size() > kMostPoints)
        return wrongInput("brush points", "a stroke has more than 100000 points");
    for (const json &point : in.at("points")) {
        if (!point.is_array() || point.size() < 2)
            return wrongInput("brush points", "each is [x, y] or [x, y, pressure]");
        const StrokePoint p{point[0].get<float>(), point[1].get<float>(),
                            point.size() > 2 ? point[2].get<float>() : 1.0F};
        // Far outside any photo the walk along the stroke would take for ever.
        if (!(std::abs(p.x) < kFarthestPx && std::abs(p.y) < kFarthestPx && p.pressure >= 0 &&
              p.pressure <= 1))
            return wrongInput("brush points", "a point is out of range");
        stroke.points.push_back(quantised(p));
    }
    if (stroke.points.empty())
        return wrongInput("brush points", "a stroke needs at least one point");
    return stroke;
}

constexpr double kMostPainting = 2e11; // px laid down: minutes

/// Roughly how many px it takes to paint strokes: dabs along their way times the tip's square.
double paintingOf(const BrushStep::Strokes &strokes)
{
    constexpr double kLeastPerDab = 200; // what a dab costs besides its px
    constexpr double kDabsPerTip = 20;
    double px = 0;
    for (const auto &stroke : strokes) {
        const double size = double(stroke->tip.sizePx);
        const double perDab = std::max(kLeastPerDab, size * size);
        const double spacing = std::max(0.5, size / kDabsPerTip);
        for (size_t i = 1; i < stroke->points.size(); ++i) {
            const StrokePoint &a = stroke->points[i - 1];
            const StrokePoint &b = stroke->points[i];
            px += (1 + double(std::hypot(b.x - a.x, b.y - a.y)) / spacing) * perDab;
        }
    }
    return px;
}

json strokeToJson(const Stroke &stroke)
{
    json points = json::array();
    for (const StrokePoint &p : stroke.points) {
        json point = json::array({p.x, p.y});
        if (p.pressure != 1)
            point.push_back(p.pressure);
        points.push_back(std::move(point));
    }
    json out{{"points", std::move(points)}, {"pressure", toWord(stroke.tip.pressure)}};
    paramsToJson(out, stroke.tip, tipParams(), ParamsWritten::All);
    if (stroke.tip.edgeHold == 0)
        out.erase("edgeHold");
    if (stroke.takesBack)
        out["takesBack"] = true;
    if (stroke.continues) {
        out["continues"] = true;
        out["leadPx"] = stroke.leadPx;
    }
    if (stroke.isCut)
        out["cut"] = true;
    return out;
}

} // namespace

Result<std::shared_ptr<const StepShape>> BrushStep::fromJson(const json &in, MaskReader &reader)
{
    Strokes strokes;
    for (const json &each : in.at("strokes")) {
        auto stroke = strokeFromJson(each);
        if (!stroke)
            return stroke.error();
        strokes.push_back(std::make_shared<const Stroke>(std::move(*stroke)));
    }
    BrushPlanes planes(reader.width, reader.height);
    bool stored = in.contains("lo") && in.contains("hi");
    if (stored) {
        auto lo = reader.get(in.at("lo"));
        auto hi = reader.get(in.at("hi"));
        stored = lo.has_value() && hi.has_value();
        if (stored) {
            planes.lo = std::move(*lo);
            planes.hi = std::move(*hi);
        } else {
            reader.notes.emplace_back("The painted mask of a brush step was missing or broken; it "
                                      "was painted again from its strokes.");
        }
    }
    if (!stored && paintingOf(strokes) > kMostPainting)
        return wrongInput("brush strokes", "to paint them without their mask would take for ever");
    const bool needsPhoto = std::any_of(strokes.begin(), strokes.end(), [](const auto &stroke) {
        return stroke->tip.edgeHold > 0;
    });
    if (!stored && needsPhoto)
        planes = {};
    else if (!stored)
        replayStrokes(strokes, planes);
    return std::shared_ptr<const StepShape>(
        std::make_shared<BrushStep>(std::move(strokes), std::move(planes)));
}

StepFacts BrushStep::facts() const
{
    size_t whole = 0;
    for (const auto &stroke : m_strokes)
        whole += size_t(stroke->continues ? 0 : 1);
    return {{"strokes", double(whole)}};
}

StepShape::Effect BrushStep::coverage(const PhotoLevels &levels, int level, const Rect &area,
                                      uint16_t *lo, uint16_t *hi) const
{
    const auto painted = [&]() -> Memo::Value {
        auto planes = std::make_shared<BrushPlanes>(levels.photo().width, levels.photo().height);
        replayStrokes(m_strokes, *planes, &levels);
        return planes;
    };
    std::shared_ptr<const BrushPlanes> own;
    if (m_planes.lo.isEmpty())
        own = ofPhoto<BrushPlanes>(levels, painted);
    const BrushPlanes &planes = own ? *own : m_planes;
    const Rect whole{area.x0 << level, area.y0 << level, area.x1 << level, area.y1 << level};
    uint16_t value = 0;
    const bool raises = !(planes.lo.isUniform(whole, value) && value == 0);
    const bool lowers = !(planes.hi.isUniform(whole, value) && value == 65535);
    if (!raises && !lowers)
        return Effect::None;
    planes.lo.readReduced(level, area, lo, size_t(area.width()));
    if (!lowers)
        return Effect::Raises;
    planes.hi.readReduced(level, area, hi, size_t(area.width()));
    return Effect::Clamps;
}

void BrushStep::toJson(json &out, MaskWriter *writer, const std::string &name) const
{
    out["strokes"] = json::array();
    for (const auto &stroke : m_strokes)
        out["strokes"].push_back(strokeToJson(*stroke));
    if (writer && !m_planes.lo.isEmpty()) {
        out["lo"] = writer->put(name + "-lo", m_planes.lo, 0);
        out["hi"] = writer->put(name + "-hi", m_planes.hi, 65535);
    }
}

void BrushStep::visitPlanes(const std::function<void(const MaskPlane &)> &visit) const
{
    visit(m_planes.lo);
    visit(m_planes.hi);
}

std::shared_ptr<const StepShape> BrushStep::placedBy(const FrameScale &scale) const
{
    Strokes strokes;
    for (const auto &each : m_strokes) {
        Stroke stroke = *each;
        stroke.tip.sizePx =
            std::clamp(float(double(stroke.tip.sizePx) * scale.length()), kMinTipPx, kMaxTipPx);
        stroke.leadPx = std::min(float(double(stroke.leadPx) * scale.length()), kMaxTipPx);
        for (StrokePoint &point : stroke.points) {
            const PhotoPoint at = scale.of(PhotoPoint{point.x, point.y});
            point = quantised({at.x, at.y, point.pressure});
        }
        strokes.push_back(std::make_shared<const Stroke>(std::move(stroke)));
    }
    return std::make_shared<BrushStep>(std::move(strokes), BrushPlanes());
}

} // namespace buttonhole

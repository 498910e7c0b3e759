#include "canvas/stitch.h"

#include "mask/mask_filter.h"
#include "raster/edge_trace.h"
#include "render/mask_stage.h"
#include "style/thread_colours.h"

#include <QPainter>
#include <QPainterPath>

#include <cmath>

namespace buttonhole::app
{

namespace
{

constexpr double kLeastLoop = 36; ///< logical px round a loop

double lengthOf(const EdgeLine &line)
{
    double sum = 0;
    for (size_t i = 1; i < line.points.size(); ++i)
        sum += double(std::hypot(line.points[i].x - line.points[i - 1].x,
                                 line.points[i].y - line.points[i - 1].y));
    return sum;
}

} // namespace

Stitch drawStitch(const PhotoLevels &levels, const Keep &keep, const ViewTransform &view,
                  QSize canvas, double devicePixelRatio, const QPointF &near, StageCache &cache)
{
    const int level = view.level(levels.count());
    const Rect area = view.picture().toPhoto(view.visible(level), level);
    if (area.isEmpty())
        return {};
    Keep full = keep;
    full.strength = 1.0F; // a pale keep has the same edge
    std::vector<uint16_t> mask(area.area());
    keepMaskOver(levels, full, level, area, mask.data(), &cache);
    if (level > 0) { // noise in a soft mask would be all stitches
        MaskPart smooth(area);
        smooth.values = std::move(mask);
        feather(smooth, 1);
        mask = std::move(smooth.values);
    }
    const auto lines = traceEdge(mask.data(), area.width(), area.height());
    if (lines.empty())
        return {};

    const double perPixel = view.logicalScale() * (1 << level); // logical px per level px
    constexpr double kOutside = 2.2;                            // logical px
    const auto toPhoto = [&](const EdgePoint &p) {
        return QPointF((double(p.x) + area.x0) * (1 << level),
                       (double(p.y) + area.y0) * (1 << level));
    };
    Stitch out;
    double nearest = 1e18;
    QPainterPath path;
    for (const EdgeLine &line : lines) {
        // Specks would only be a storm of stitches; the Mask view shows them.
        if (line.points.size() < 3 || (line.isClosed && lengthOf(line) * perPixel < kLeastLoop))
            continue;
        for (const EdgePoint &p : line.points) {
            const QPointF away = toPhoto(p) - near;
            if (QPointF::dotProduct(away, away) >= nearest)
                continue;
            nearest = QPointF::dotProduct(away, away);
            out.edge = toPhoto(p);
        }
        const EdgeLine moved = movedOutward(line, float(kOutside / perPixel));
        QPolygonF polygon;
        for (const EdgePoint &p : moved.points)
            polygon << view.toWidget(toPhoto(p));
        if (moved.isClosed)
            polygon << polygon.front();
        path.addPolygon(polygon);
    }

    QImage &image = out.image;
    image = QImage(canvas * devicePixelRatio, QImage::Format_ARGB32_Premultiplied);
    image.setDevicePixelRatio(devicePixelRatio);
    image.fill(Qt::transparent);
    QPainter painter(&image);
    painter.setRenderHint(QPainter::Antialiasing);
    // Dash lengths count pen widths; round caps add one width to each stitch.
    QPen shadow(inkOnPhoto(190), 3.0, Qt::CustomDashLine, Qt::RoundCap, Qt::RoundJoin);
    shadow.setDashPattern({5.0 / 3.0, 7.0 / 3.0});
    QPen thread(threadOnPhoto(), 1.7, Qt::CustomDashLine, Qt::RoundCap, Qt::RoundJoin);
    thread.setDashPattern({5.0 / 1.7, 7.0 / 1.7});
    painter.strokePath(path, shadow);
    painter.strokePath(path, thread);
    return out;
}

} // namespace buttonhole::app

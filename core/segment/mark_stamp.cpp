#include "segment/mark_stamp.h"

#include <cmath>

namespace buttonhole
{

namespace
{

/// A piece of a mark's line, between the middles of two pixels.
struct StampPiece {
    double x0, y0, x1, y1;

    double distanceTo(double x, double y) const
    {
        const double dx = x1 - x0;
        const double dy = y1 - y0;
        const double length = dx * dx + dy * dy;
        const double t =
            length > 0 ? std::clamp(((x - x0) * dx + (y - y0) * dy) / length, 0.0, 1.0) : 0;
        return std::hypot(x - x0 - t * dx, y - y0 - t * dy);
    }
};

void stampPiece(MaskPlane &plane, const StampPiece &piece, int radius, uint16_t value)
{
    const auto within = [](double v, int most) { return int(std::clamp(v, -1.0, most + 1.0)); };
    const Rect all = plane.rect();
    const Rect area = intersected(all, {within(std::min(piece.x0, piece.x1) - radius, all.x1),
                                        within(std::min(piece.y0, piece.y1) - radius, all.y1),
                                        within(std::max(piece.x0, piece.x1) + radius + 1, all.x1),
                                        within(std::max(piece.y0, piece.y1) + radius + 1, all.y1)});
    for (int tileY = area.y0 / kTileSize; tileY * kTileSize < area.y1; ++tileY)
        for (int tileX = area.x0 / kTileSize; tileX * kTileSize < area.x1; ++tileX) {
            const Rect part = intersected(area, {tileX * kTileSize, tileY * kTileSize,
                                                 (tileX + 1) * kTileSize, (tileY + 1) * kTileSize});
            const double middle =
                piece.distanceTo((part.x0 + part.x1) / 2.0, (part.y0 + part.y1) / 2.0);
            if (part.isEmpty() || middle > radius + std::hypot(part.width(), part.height()))
                continue;
            uint16_t *tile = plane.writable(tileX, tileY);
            for (int y = part.y0; y < part.y1; ++y)
                for (int x = part.x0; x < part.x1; ++x)
                    if (piece.distanceTo(x, y) <= radius)
                        tile[size_t(y % kTileSize) * kTileSize + size_t(x % kTileSize)] = value;
        }
}

} // namespace

int sureRadius(const RegionMark &mark)
{
    return std::max(1, int(mark.radiusPx / 2));
}

void stampMarks(MaskPlane &plane, const std::vector<RegionMark> &marks)
{
    for (const RegionMark &mark : marks)
        for (size_t i = 0; i < mark.points.size(); ++i) {
            const PhotoPoint &a = mark.points[i == 0 ? 0 : i - 1];
            const PhotoPoint &b = mark.points[i];
            stampPiece(plane,
                       {std::floor(double(a.x)), std::floor(double(a.y)), std::floor(double(b.x)),
                        std::floor(double(b.y))},
                       sureRadius(mark), mark.isLeave ? 0 : 65535);
        }
}

} // namespace buttonhole

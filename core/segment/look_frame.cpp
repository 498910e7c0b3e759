#include "segment/look_frame.h"

#include "io/lab_row.h"
#include "raster/parallel_tiles.h"

#include <opencv2/imgproc.hpp>

namespace buttonhole
{

cv::Mat3f readLab(const PhotoLevels &levels, int level, const Rect &area)
{
    cv::Mat3f out(area.height(), area.width());
    LabRow run;
    for (int y = area.y0; y < area.y1; ++y) {
        cv::Vec3f *to = out[y - area.y0];
        for (int x = area.x0; x < area.x1; x += kRowRun) {
            const int n = std::min(kRowRun, area.x1 - x);
            run.read(levels, level, x, y, n);
            for (int i = 0; i < n; ++i)
                *to++ = {run.L[i], run.a[i], run.b[i]};
        }
    }
    return out;
}

LookFrame readFrame(const PhotoLevels &levels, const Rect &area, int longEdge)
{
    const int longest = std::max(area.width(), area.height());
    int level = 0;
    while (level + 1 < levels.count() && (longest >> (level + 1)) >= longEdge)
        ++level;
    const Rect part = intersected(atLevel(area, level), levels.rectOf(level));
    cv::Mat3f lab(part.height(), part.width());
    constexpr int kRows = 32;
    parallelRows(part.height(), kRows, [&](int y0, int y1) {
        readLab(levels, level, {part.x0, part.y0 + y0, part.x1, part.y0 + y1})
            .copyTo(lab.rowRange(y0, y1));
    });
    LookFrame frame{area, std::min(1.0, double(longEdge) / longest), {}};
    const cv::Size size(std::max(1, int(std::lround(area.width() * frame.scale))),
                        std::max(1, int(std::lround(area.height() * frame.scale))));
    if (size == lab.size())
        frame.lab = lab;
    else
        cv::resize(lab, frame.lab, size, 0, 0, cv::INTER_AREA);
    return frame;
}

} // namespace buttonhole

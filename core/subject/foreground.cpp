#include "subject/foreground.h"

#include "segment/frame.h"
#include "subject/net_picture.h"

#include <opencv2/imgproc.hpp>

#include <cmath>

namespace buttonhole
{

namespace
{

constexpr double kRooms[] = {0.08, 0.20, 0.40};
constexpr int kPriorEdge = 256; ///< long edge of the answer, px

/// A net's answer for `crop` as seen over `area` in a raster of `size`.
void addAnswer(const std::vector<float> &answer, bool isMirrored, const Rect &crop,
               const Rect &area, cv::Mat1f &sum, cv::Mat1f &count)
{
    cv::Mat1f square(kForegroundSide, kForegroundSide, const_cast<float *>(answer.data()));
    cv::Mat1f upright = square;
    if (isMirrored)
        cv::flip(square, upright, 1);
    const double sx = double(sum.cols) / area.width();
    const double sy = double(sum.rows) / area.height();
    const cv::Rect to(cv::Point(int(std::lround((crop.x0 - area.x0) * sx)),
                                int(std::lround((crop.y0 - area.y0) * sy))),
                      cv::Point(int(std::lround((crop.x1 - area.x0) * sx)),
                                int(std::lround((crop.y1 - area.y0) * sy))));
    if (to.empty())
        return;
    cv::Mat1f placed;
    cv::resize(upright, placed, to.size(), 0, 0, cv::INTER_LINEAR);
    sum(to) += placed;
    count(to) += 1;
}

float percentile90(const cv::Mat1f &in, const cv::Rect &part)
{
    const cv::Mat1f own = in(part).clone();
    std::vector<float> values(own.begin(), own.end());
    const auto nth = values.begin() + ptrdiff_t(0.9 * double(values.size() - 1));
    std::nth_element(values.begin(), nth, values.end());
    return *nth;
}

/// How much of the answer lies outside the box, 0..1: where a lot does, it is for more than the
/// thing in the box.
float goesOnOutside(const cv::Mat1f &mean, const cv::Rect &box)
{
    const double all = cv::sum(mean)[0];
    const double inside = box.empty() ? 0 : cv::sum(mean(box))[0];
    return all > 0 ? float(1 - inside / all) : 1;
}

} // namespace

Result<RegionPrior> findForeground(const PhotoLevels &levels, const Rect &box, const Run &run)
{
    const auto nets = loadNets();
    if (!nets)
        return nets.error();
    const auto model = findModel("selfie_256.onnx");
    if (!model)
        return model.error();
    const Rect photo = levels.photo().rect();
    const Rect area = enlarged(box, kRooms[2], photo);
    const double scale = std::min(1.0, double(kPriorEdge) / std::max(area.width(), area.height()));
    const cv::Size size(std::max(1, int(std::lround(area.width() * scale))),
                        std::max(1, int(std::lround(area.height() * scale))));
    cv::Mat1f sum(cv::Mat1f::zeros(size));
    cv::Mat1f count(cv::Mat1f::zeros(size));
    for (const double room : kRooms) {
        const Rect crop = enlarged(box, room, photo);
        const NetPicture picture = readNetPicture(levels, crop, kForegroundSide);
        for (const bool isMirrored : {false, true}) {
            if (run.stopped())
                return Error{ErrorKind::Cancelled, "foreground", {}};
            const auto answer =
                (*nets)->foreground(*model, isMirrored ? mirrored(picture) : picture);
            if (!answer)
                return answer.error();
            addAnswer(*answer, isMirrored, crop, area, sum, count);
        }
    }
    cv::Mat1f mean(sum / cv::max(count, 1));
    const Frame place{area, double(size.width) / area.width(), {}};
    const cv::Point2d a = place.toFrame({float(box.x0), float(box.y0)});
    const cv::Point2d b = place.toFrame({float(box.x1), float(box.y1)});
    const cv::Rect inBox = cv::Rect(cv::Point(int(a.x), int(a.y)),
                                    cv::Point(int(std::ceil(b.x)), int(std::ceil(b.y)))) &
                           cv::Rect({}, size);
    const float high = inBox.empty() ? 0 : percentile90(mean, inBox);
    RegionPrior out{area, Image<float>(size.width, size.height, 1), 0};
    constexpr float kNoTrust = 0.2F;
    constexpr float kFullTrust = 0.7F;
    out.trust = std::clamp((high - kNoTrust) / (kFullTrust - kNoTrust), 0.0F, 1.0F);
    mean = cv::min(mean / std::max(high, 0.01F), 1.0F);
    out.trust *= std::clamp(1.5F - 5 * goesOnOutside(mean, inBox), 0.0F, 1.0F);
    mean.copyTo(cv::Mat1f(size.height, size.width, out.inside.row(0)));
    return out;
}

} // namespace buttonhole

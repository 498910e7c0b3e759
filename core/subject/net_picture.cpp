#include "subject/net_picture.h"

#include "colour/oklab.h"
#include "colour/profile.h"
#include "colour/srgb_curve.h"
#include "segment/look_frame.h"

#include <cmath>

namespace buttonhole
{

namespace
{

/// sRGB codes of linear values in steps of 1/4095.
const std::vector<uint8_t> &srgbCodes()
{
    static const std::vector<uint8_t> codes = [] {
        std::vector<uint8_t> out(4096);
        for (size_t i = 0; i < out.size(); ++i) {
            out[i] = uint8_t(std::lround(srgbCode(double(i) / 4095) * 255));
        }
        return out;
    }();
    return codes;
}

} // namespace

NetPicture readNetPicture(const PhotoLevels &levels, const Rect &area, int longEdge)
{
    const LookFrame frame = readFrame(levels, area, longEdge);
    NetPicture out{frame.lab.cols, frame.lab.rows, {}};
    out.rgb.reserve(frame.lab.total() * 3);
    const Matrix3 fromXyz = inverse(Profile::srgb().toXyz());
    const auto &codes = srgbCodes();
    for (const cv::Vec3f &lab : frame.lab) {
        const Vector3 rgb = fromXyz * toXyz({double(lab[0]), double(lab[1]), double(lab[2])});
        for (const double v : rgb)
            out.rgb.push_back(codes[size_t(std::clamp(v, 0.0, 1.0) * 4095 + 0.5)]);
    }
    return out;
}

NetPicture mirrored(const NetPicture &picture)
{
    NetPicture out = picture;
    const auto width = size_t(picture.width);
    for (size_t y = 0; y < size_t(picture.height); ++y)
        for (size_t x = 0; x < width; ++x)
            for (size_t c = 0; c < 3; ++c)
                out.rgb[(y * width + x) * 3 + c] = picture.rgb[(y * width + width - 1 - x) * 3 + c];
    return out;
}

Rect enlarged(const Rect &box, double share, const Rect &photo)
{
    const int dx = int(std::lround(box.width() * share));
    const int dy = int(std::lround(box.height() * share));
    return intersected({box.x0 - dx, box.y0 - dy, box.x1 + dx, box.y1 + dy}, photo);
}

} // namespace buttonhole

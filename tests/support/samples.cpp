#include "samples.h"

#include <nlohmann/json.hpp>

#include <QFile>
#include <QTest>

#include <lcms2.h>

#include <cmath>

namespace buttonhole::test
{

template <class T>
Image<T> makePicture(int width, int height, int channels)
{
    Image<T> image(width, height, channels);
    const double top = double(T(-1));
    uint32_t state = 12345;
    for (int y = 0; y < height; ++y)
        for (int x = 0; x < width; ++x) {
            const double u = double(x) / std::max(1, width - 1);
            const double v = double(y) / std::max(1, height - 1);
            for (int c = 0; c < channels; ++c) {
                state = state * 1664525U + 1013904223U;
                const double noise = (double(state >> 16) / 65536.0 - 0.5) * 0.06;
                const double wave = 0.5 + 0.45 * std::sin(6.0 * u + 2.1 * c + 3.0 * v);
                const bool isNeutral = v > 0.85;
                const double value = (isNeutral ? u : wave) + (isNeutral ? 0.0 : noise);
                image.pixel(x, y)[c] = T(std::lround(std::clamp(value, 0.0, 1.0) * top));
            }
        }
    return image;
}

template Image<uint8_t> makePicture(int, int, int);
template Image<uint16_t> makePicture(int, int, int);

std::shared_ptr<const Photo> makePhoto(int width, int height, int bits, const Profile &profile)
{
    auto photo = std::make_shared<Photo>();
    photo->path = "fernhollow.png";
    photo->width = width;
    photo->height = height;
    photo->sourceBits = bits;
    photo->profile = profile;
    photo->hasOwnProfile = true;
    if (bits == 8)
        photo->pixels = makePicture<uint8_t>(width, height);
    else
        photo->pixels = makePicture<uint16_t>(width, height);
    return photo;
}

namespace
{

Profile makeWideProfile()
{
    const cmsCIExyY white{0.3127, 0.3290, 1};
    const cmsCIExyYTRIPLE primaries{{0.708, 0.292, 1}, {0.170, 0.797, 1}, {0.131, 0.046, 1}};
    cmsToneCurve *curve = cmsBuildGamma(nullptr, 2.2);
    cmsToneCurve *curves[3] = {curve, curve, curve};
    cmsHPROFILE handle = cmsCreateRGBProfile(&white, &primaries, curves);
    cmsUInt32Number size = 0;
    cmsSaveProfileToMem(handle, nullptr, &size);
    std::vector<uint8_t> icc(size);
    cmsSaveProfileToMem(handle, icc.data(), &size);
    cmsCloseProfile(handle);
    cmsFreeToneCurve(curve);
    return Profile::fromIcc(std::move(icc), "wide").value();
}

} // namespace

Profile wideProfile()
{
    static const Profile profile = makeWideProfile(); // its header holds the time it was made
    return profile;
}

Stroke makeStroke(const Tip &tip, std::initializer_list<StrokePoint> points)
{
    Stroke stroke;
    stroke.tip = tip;
    stroke.points = points;
    return stroke;
}

Take makePaintedTake(int width, int height, const std::vector<Stroke> &strokes, Sign sign)
{
    BrushStep::Strokes shared;
    for (const Stroke &stroke : strokes)
        shared.push_back(std::make_shared<const Stroke>(stroke));
    BrushPlanes planes(width, height);
    replayStrokes(shared, planes);
    Take take = makeTake();
    take.keeps[0].name = "Spool";
    return withNewStep(std::move(take), take.keeps[0].id, sign,
                       std::make_shared<BrushStep>(std::move(shared), std::move(planes)));
}

std::vector<uint16_t> maskOf(const Keep &keep, const Rect &area, int level)
{
    std::vector<uint16_t> out(area.area());
    // Strokes and pictures do not look at the photo.
    auto blank = std::make_shared<Photo>();
    blank->width = area.x1 << level;
    blank->height = area.y1 << level;
    blank->pixels = Image<uint8_t>(blank->width, blank->height, 3);
    keepMask(**PhotoLevels::make(blank), keep, level, area, out.data());
    return out;
}

std::vector<uint16_t> pixelsOf(const MaskPlane &plane)
{
    std::vector<uint16_t> out(plane.rect().area());
    plane.read(plane.rect(), out.data(), size_t(plane.width()));
    return out;
}

double meanOf(const MaskPlane &plane)
{
    double sum = 0;
    const auto pixels = pixelsOf(plane);
    for (const uint16_t pixel : pixels)
        sum += pixel / 65535.0;
    return sum / double(pixels.size());
}

std::string hostileDrawing()
{
    constexpr int kMasks = 8000;
    const auto id = [](int i) { return "m" + std::to_string(i); };
    std::string out = "<svg xmlns=\"http://www.w3.org/2000/svg\" width=\"100\" height=\"60\">";
    for (int i = 0; i < kMasks; ++i)
        out += "<mask id=\"" + id(i) +
               "\"><rect width=\"9\" height=\"9\" fill=\"white\" mask=\"url(#" + id(i + 1) +
               ")\"/></mask>";
    return out + "<rect width=\"100\" height=\"60\" mask=\"url(#m0)\"/></svg>";
}

QString demo(const char *name)
{
    return QStringLiteral(BUTTONHOLE_DEMO "/") + QLatin1String(name);
}

std::vector<uint8_t> bytesOf(const QString &path)
{
    QFile file(path);
    if (!file.open(QIODevice::ReadOnly)) {
        QTest::qFail(qPrintable(QStringLiteral("cannot read ") + path), __FILE__, __LINE__);
        return {};
    }
    const QByteArray bytes = file.readAll();
    return {bytes.begin(), bytes.end()};
}

uint16_t codeAt(const Photo &photo, int x, int y, int channel)
{
    if (const auto *eight = std::get_if<Image<uint8_t>>(&photo.pixels))
        return uint16_t(eight->pixel(x, y)[channel] * 257);
    return std::get<Image<uint16_t>>(photo.pixels).pixel(x, y)[channel];
}

std::shared_ptr<const PhotoLevels> levelsOf(int width, int height, const Painter &paint)
{
    auto photo = std::make_shared<Photo>();
    photo->width = width;
    photo->height = height;
    Image<uint8_t> pixels(width, height, 3);
    for (int y = 0; y < height; ++y)
        for (int x = 0; x < width; ++x) {
            const auto rgb = paint(x, y);
            for (size_t c = 0; c < 3; ++c)
                pixels.pixel(x, y)[c] = uint8_t(rgb[c]);
        }
    photo->pixels = std::move(pixels);
    return *PhotoLevels::make(photo);
}

std::shared_ptr<const StepShape> again(const StepShape &shape)
{
    struct NoReader final : MaskReader {
        Result<MaskPlane> get(const nlohmann::json &) override
        {
            return Error{ErrorKind::NotFound, "mask", {}};
        }
    } reader;
    nlohmann::json out{{"kind", shape.kind()}};
    shape.toJson(out, nullptr, "x");
    const auto read = stepFromJson(nlohmann::json::parse(out.dump()), reader);
    return read ? *read : nullptr;
}

} // namespace buttonhole::test

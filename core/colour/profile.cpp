#include "colour/profile.h"

#include "colour/oklab.h"
#include "colour/srgb_curve.h"
#include "raster/parallel_tiles.h"

#include <lcms2.h>

#include <algorithm>
#include <cmath>

namespace buttonhole
{

namespace
{

using ProfileHandle = std::unique_ptr<void, int (*)(cmsHPROFILE)>;

ProfileHandle openIcc(const std::vector<uint8_t> &icc)
{
    return {icc.empty() ? nullptr : cmsOpenProfileFromMem(icc.data(), cmsUInt32Number(icc.size())),
            [](cmsHPROFILE h) -> int { return h ? cmsCloseProfile(h) : 0; }};
}

std::string descriptionOf(cmsHPROFILE handle)
{
    char text[256] = {};
    cmsGetProfileInfoASCII(handle, cmsInfoDescription, "en", "US", text, sizeof text);
    return text;
}

/// One value of a curve in float. LittleCMS rounds table curves to 16 bits when evaluating; their
/// entries are interpolated here instead, since linear light needs the fraction in the shadows.
float evaluate(const cmsToneCurve *curve, double x)
{
    const cmsUInt32Number entries = cmsGetToneCurveEstimatedTableEntries(curve);
    if (cmsGetToneCurveParametricType(curve) != 0 || entries < 2)
        return cmsEvalToneCurveFloat(curve, float(x));
    const cmsUInt16Number *table = cmsGetToneCurveEstimatedTable(curve);
    const double at = x * (entries - 1);
    const size_t i = std::min<size_t>(size_t(at), entries - 2);
    const double t = at - double(i);
    return float((table[i] * (1 - t) + table[i + 1] * t) / 65535.0);
}

std::vector<float> sampleSrgb()
{
    std::vector<float> samples(65536);
    for (size_t i = 0; i < samples.size(); ++i)
        samples[i] = float(srgbLinear(double(i) / 65535.0));
    return samples;
}

/// The rounding of numbers in ICC profiles (s15Fixed16 parameters, 16-bit tables) puts a step of
/// about one 16-bit code where sRGB's line meets its power, which could not be inverted.
void snapToSrgb(std::vector<float> &samples)
{
    constexpr float kIccRounding = 1e-5F;
    static const std::vector<float> srgb = sampleSrgb();
    for (size_t i = 0; i < samples.size(); ++i)
        if (std::abs(samples[i] - srgb[i]) > kIccRounding)
            return;
    samples = srgb;
}

std::vector<float> sampleCurve(const cmsToneCurve *curve)
{
    std::vector<float> samples(65536);
    for (size_t i = 0; i < samples.size(); ++i)
        samples[i] = evaluate(curve, double(i) / 65535.0);
    snapToSrgb(samples);
    samples.front() = std::max(0.0F, samples.front());
    for (size_t i = 1; i < samples.size(); ++i) // a curve that dips could not be inverted
        samples[i] = std::max(samples[i], samples[i - 1]);
    return samples;
}

std::vector<float> invertOverRoot(const std::vector<float> &samples)
{
    std::vector<float> out(size_t(Profile::kEncodeSteps) + 1);
    for (size_t i = 0; i < out.size(); ++i) {
        const double linear = std::pow(double(i) / Profile::kEncodeSteps, 4);
        const auto above = std::lower_bound(samples.begin(), samples.end(), float(linear));
        if (above == samples.begin() || above == samples.end()) {
            out[i] = above == samples.begin() ? 0.0F : 1.0F;
            continue;
        }
        const double hi = *above;
        const double lo = *(above - 1);
        const double t = hi > lo ? (linear - lo) / (hi - lo) : 1.0;
        out[i] = float((double(above - samples.begin()) - 1 + t) / 65535.0);
    }
    return out;
}

std::vector<uint8_t> codesOverRoot(const std::vector<float> &samples)
{
    std::vector<uint8_t> out(65536);
    size_t from = 0;
    for (int code = 0; code < 255; ++code) { // up to where the next code is nearer
        const double at = (code + 0.5) * 257.0;
        const double linear = 0.5 * (double(samples[size_t(at)]) + double(samples[size_t(at) + 1]));
        const double end = std::sqrt(std::clamp(linear, 0.0, 1.0)) * 65535.0;
        const size_t to = std::min(out.size(), size_t(end + 1.0));
        for (; from < to; ++from)
            out[from] = uint8_t(code);
    }
    std::fill(out.begin() + ptrdiff_t(from), out.end(), uint8_t(255));
    return out;
}

Matrix3 bradfordD50ToD65()
{
    // ICC.1:2022 annex E with the D65 of IEC 61966-2-1.
    return {{{0.9555766, -0.0230393, 0.0631636},
             {-0.0282895, 1.0099416, 0.0210077},
             {0.0122982, -0.0204830, 1.3299098}}};
}

} // namespace

Result<Profile> Profile::fromIcc(std::vector<uint8_t> icc, const std::string &subject)
{
    const ProfileHandle handle = openIcc(icc);
    if (!handle)
        return Error{ErrorKind::Damaged, subject, "its colour profile cannot be read"};
    if (cmsGetColorSpace(handle.get()) != cmsSigRgbData || !cmsIsMatrixShaper(handle.get()))
        return Error{ErrorKind::InvalidArgument, subject, "not an RGB matrix profile"};

    auto data = std::make_shared<Data>();
    data->description = descriptionOf(handle.get());
    const cmsTagSignature colorants[] = {cmsSigRedColorantTag, cmsSigGreenColorantTag,
                                         cmsSigBlueColorantTag};
    const cmsTagSignature curves[] = {cmsSigRedTRCTag, cmsSigGreenTRCTag, cmsSigBlueTRCTag};
    Matrix3 toD50{};
    const cmsToneCurve *before = nullptr;
    for (size_t c = 0; c < 3; ++c) {
        const auto *xyz = static_cast<const cmsCIEXYZ *>(cmsReadTag(handle.get(), colorants[c]));
        const auto *curve = static_cast<const cmsToneCurve *>(cmsReadTag(handle.get(), curves[c]));
        if (!xyz || !curve)
            return Error{ErrorKind::Damaged, subject, "its colour profile has a part missing"};
        toD50[0][c] = xyz->X;
        toD50[1][c] = xyz->Y;
        toD50[2][c] = xyz->Z;
        if (curve == before) { // one curve for all channels, as most profiles have
            data->toLinear[c] = data->toLinear[c - 1];
            data->fromRoot[c] = data->fromRoot[c - 1];
            data->from8BitRoot[c] = data->from8BitRoot[c - 1];
            continue;
        }
        before = curve;
        data->toLinear[c] = sampleCurve(curve);
        data->fromRoot[c] = invertOverRoot(data->toLinear[c]);
        data->from8BitRoot[c] = codesOverRoot(data->toLinear[c]);
    }
    if (std::abs(determinant(toD50)) < 1e-6)
        return Error{ErrorKind::Damaged, subject, "its colour profile is degenerate"};
    data->toXyz = withWhite(bradfordD50ToD65() * toD50, {1, 1, 1}, kWhiteD65);
    data->icc = std::move(icc);

    Profile profile;
    profile.m_data = std::move(data);
    return profile;
}

const Profile &Profile::srgb()
{
    static const Profile profile = [] {
        const ProfileHandle handle(cmsCreate_sRGBProfile(),
                                   [](cmsHPROFILE h) -> int { return cmsCloseProfile(h); });
        cmsUInt32Number size = 0;
        cmsSaveProfileToMem(handle.get(), nullptr, &size);
        std::vector<uint8_t> icc(size);
        cmsSaveProfileToMem(handle.get(), icc.data(), &size);
        // The header's date (ICC.1 7.2.8) is now; a fixed one makes equal exports equal files.
        constexpr uint8_t kDate[12] = {0x07, 0xEA, 0, 1, 0, 1};
        std::copy(std::begin(kDate), std::end(kDate), icc.begin() + 24);
        return fromIcc(std::move(icc), "sRGB").value();
    }();
    return profile;
}

bool Profile::isSameSpaceAs(const Profile &other) const
{
    if (m_data == other.m_data)
        return true;
    for (size_t i = 0; i < 3; ++i) {
        for (size_t j = 0; j < 3; ++j)
            if (std::abs(m_data->toXyz[i][j] - other.m_data->toXyz[i][j]) > 5e-4)
                return false;
        for (size_t k = 0; k < 65536; k += 257)
            if (std::abs(m_data->toLinear[i][k] - other.m_data->toLinear[i][k]) > 2e-4F)
                return false;
    }
    return true;
}

Result<IccSummary> readIccSummary(const std::vector<uint8_t> &icc, const std::string &subject)
{
    const ProfileHandle handle = openIcc(icc);
    if (!handle)
        return Error{ErrorKind::Damaged, subject, "its colour profile cannot be read"};
    IccSummary summary;
    summary.description = descriptionOf(handle.get());
    switch (cmsGetColorSpace(handle.get())) {
    case cmsSigRgbData:
        summary.space = IccSummary::Space::Rgb;
        break;
    case cmsSigGrayData:
        summary.space = IccSummary::Space::Grey;
        break;
    case cmsSigCmykData:
        summary.space = IccSummary::Space::Cmyk;
        break;
    default:
        break;
    }
    return summary;
}

namespace
{

using Transform = std::unique_ptr<void, void (*)(cmsHTRANSFORM)>;

Transform toSrgb16(const ProfileHandle &from, cmsUInt32Number format)
{
    const ProfileHandle to = openIcc(Profile::srgb().icc());
    return Transform(from && to
                         ? cmsCreateTransform(from.get(), format, to.get(), TYPE_RGB_16,
                                              INTENT_RELATIVE_COLORIMETRIC,
                                              cmsFLAGS_BLACKPOINTCOMPENSATION | cmsFLAGS_NOCACHE)
                         : nullptr,
                     [](cmsHTRANSFORM h) {
                         if (h)
                             cmsDeleteTransform(h);
                     });
}

void transformAll(const Transform &transform, const uint16_t *pixels, int channels, size_t count,
                  uint16_t *out)
{
    constexpr size_t kRun = 65536;
    parallelFor(int((count + kRun - 1) / kRun), [&](int i) {
        const size_t start = size_t(i) * kRun;
        cmsDoTransform(transform.get(), pixels + start * size_t(channels), out + start * 3,
                       cmsUInt32Number(std::min(kRun, count - start)));
    });
}

} // namespace

Result<void> convertToSrgb16(const std::vector<uint8_t> &icc, const uint16_t *pixels, int channels,
                             size_t count, uint16_t *out, const std::string &subject)
{
    const ProfileHandle from = openIcc(icc);
    if (!from)
        return Error{ErrorKind::Damaged, subject, "its colour profile cannot be read"};
    const Transform transform = toSrgb16(from, channels == 4   ? TYPE_CMYK_16
                                               : channels == 1 ? TYPE_GRAY_16
                                                               : TYPE_RGB_16);
    if (!transform)
        return Error{ErrorKind::InvalidArgument, subject,
                     "its colour profile does not fit its channels"};
    transformAll(transform, pixels, channels, count, out);
    return {};
}

Result<void> convertLabToSrgb16(const uint16_t *pixels, size_t count, uint16_t *out)
{
    const ProfileHandle from(cmsCreateLab4Profile(nullptr), cmsCloseProfile);
    const Transform transform = toSrgb16(from, TYPE_Lab_16);
    if (!transform)
        return Error{ErrorKind::OutOfMemory, "CIE L*a*b*", {}};
    transformAll(transform, pixels, 3, count, out);
    return {};
}

} // namespace buttonhole

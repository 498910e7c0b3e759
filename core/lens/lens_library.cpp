#include "lens/lens_library.h"

#include <lensfun/lensfun.h>

#include <opencv2/core.hpp>

#include <algorithm>
#include <cctype>
#include <cmath>
#include <iterator>
#include <mutex>
#include <set>
#include <sstream>

namespace buttonhole
{

namespace
{

constexpr float kFarM = 1000; ///< metres, of a photo that does not say how far it looks

/// Lensfun is not said to be safe from several threads.
std::mutex &lensfun()
{
    static std::mutex mutex;
    return mutex;
}

/// What Lensfun gave and wants back.
template <class T>
struct Found {
    explicit Found(const T **all) : list(all) {}
    ~Found() { lf_free(list); }
    Found(const Found &) = delete;
    Found &operator=(const Found &) = delete;
    const T *first() const { return list ? list[0] : nullptr; }
    const T **list;
};

std::string nameOf(const lfLens &lens)
{
    const std::string maker = lf_mlstr_get(lens.Maker) ? lf_mlstr_get(lens.Maker) : "";
    const std::string model = lf_mlstr_get(lens.Model) ? lf_mlstr_get(lens.Model) : "";
    return model.rfind(maker, 0) == 0 ? model : maker + " " + model;
}

/// The polynomial that goes through values at radii 0..kFurthest, as Radial has it.
constexpr int kPlaces = 48;
constexpr double kFurthest = 1.1; // half diagonals: levelled photos look beyond their corners
Radial fitted(const std::vector<double> &radii, const std::vector<double> &values)
{
    Radial out;
    const int terms = int(out.by.size());
    const int rows = int(values.size());
    cv::Mat1d powers(rows, terms);
    cv::Mat1d wanted(rows, 1);
    for (int i = 0; i < rows; ++i) {
        wanted(i, 0) = values[size_t(i)];
        for (int k = 0; k < terms; ++k)
            powers(i, k) = std::pow(radii[size_t(i)], k);
    }
    cv::Mat1d by;
    cv::solve(powers, wanted, by, cv::DECOMP_SVD);
    constexpr double kNothing = 1e-7;
    const bool isNone = std::all_of(values.begin(), values.end(),
                                    [](double v) { return std::abs(v - 1) < kNothing; });
    for (int k = 0; k < terms && !isNone; ++k)
        out.by[size_t(k)] = float(by(k, 0));
    return out;
}

/// A value round the middle of the photo along its diagonal: the mean of both ways, so that a
/// middle beside the photo's does not count.
template <class At>
Radial sampled(int width, int height, double furthest, At &&at)
{
    std::vector<double> radii;
    std::vector<double> values;
    for (int i = 1; i <= kPlaces; ++i) {
        const double r = furthest * i / kPlaces;
        const double dx = r * width / 2;
        const double dy = r * height / 2;
        radii.push_back(r);
        values.push_back((at(dx, dy, r) + at(-dx, -dy, r)) / 2);
    }
    return fitted(radii, values);
}

} // namespace

const LensLibrary &LensLibrary::system()
{
    static const LensLibrary all{std::string()};
    return all;
}

LensLibrary::LensLibrary(const std::string &file) : m_database(std::make_unique<lfDatabase>())
{
    const std::scoped_lock lock(lensfun());
    if (file.empty())
        m_database->Load();
    else
        m_database->Load(file.c_str());
}

LensLibrary::~LensLibrary() = default;

LensProfile LensLibrary::profileOf(const lfLens &lens, double crop, const TakenWith &with,
                                   int width, int height) const
{
    const float focal =
        with.focalMm > 0 ? float(with.focalMm) : std::sqrt(lens.MinFocal * lens.MaxFocal);
    const float aperture = with.aperture > 0 ? float(with.aperture) : lens.MinAperture;
    lfModifier modifier(&lens, float(crop), width, height);
    const int does =
        modifier.Initialize(&lens, LF_PF_F32, focal, aperture, kFarM, 1, lens.Type,
                            LF_MODIFY_DISTORTION | LF_MODIFY_TCA | LF_MODIFY_VIGNETTING, false);
    const double cx = (width - 1) / 2.0;
    const double cy = (height - 1) / 2.0;
    const auto share = [&](const float *place, double dx, double dy) {
        return std::hypot(double(place[0]) - cx, double(place[1]) - cy) / std::hypot(dx, dy);
    };
    LensProfile out;
    out.name = nameOf(lens);
    char set[64];
    std::snprintf(set, sizeof set, ", %g mm", double(focal));
    if (with.focalMm > 0 && lens.MinFocal < lens.MaxFocal)
        out.name += set;
    if (does & LF_MODIFY_DISTORTION)
        out.distortion = sampled(width, height, kFurthest, [&](double dx, double dy, double) {
            float place[2];
            modifier.ApplyGeometryDistortion(float(cx + dx), float(cy + dy), 1, 1, place);
            return share(place, dx, dy);
        });
    if (does & LF_MODIFY_TCA)
        for (const auto &[radial, at] : {std::pair(&out.red, 0), {&out.blue, 4}})
            *radial = sampled(width, height, 1, [&](double dx, double dy, double) {
                float places[6];
                modifier.ApplySubpixelDistortion(float(cx + dx), float(cy + dy), 1, 1, places);
                return share(places + at, dx, dy) / share(places + 2, dx, dy);
            });
    if (does & LF_MODIFY_VIGNETTING)
        out.vignetting = sampled(width, height, 1, [&](double dx, double dy, double) {
            float grey[] = {1, 1, 1};
            modifier.ApplyColorModification(grey, float(cx + dx), float(cy + dy), 1, 1,
                                            LF_CR_3(RED, GREEN, BLUE), sizeof grey);
            return 1 / std::max(1e-3, double(grey[1]));
        });
    return out;
}

Result<LensProfile> LensLibrary::profileFor(const TakenWith &with, int width, int height) const
{
    const std::scoped_lock lock(lensfun());
    if (with.model.empty() && with.lens.empty())
        return Error{ErrorKind::NotFound, "lens",
                     "the photo does not say what it was taken with: choose a lens, or set it by "
                     "hand"};
    const Found<lfCamera> cameras(
        m_database->FindCamerasExt(with.maker.c_str(), with.model.c_str()));
    const lfCamera *camera = cameras.first();
    // A camera whose lens cannot be changed has one that bears its name.
    const bool isBuiltIn = with.lens.empty() && camera;
    const Found<lfLens> lenses(
        with.lens.empty() && !camera
            ? nullptr
            : m_database->FindLenses(camera, nullptr, isBuiltIn ? nullptr : with.lens.c_str()));
    const bool isTheOne = lenses.first() && (!isBuiltIn || !lenses.list[1]);
    if (!isTheOne)
        return Error{ErrorKind::NotFound, with.lens.empty() ? with.model : with.lens,
                     "this lens is not among the measured ones: choose another, or set it by hand"};
    const double crop = camera ? double(camera->CropFactor) : double(lenses.first()->CropFactor);
    return profileOf(*lenses.first(), crop, with, width, height);
}

std::vector<std::string> LensLibrary::search(const std::string &text, size_t most) const
{
    const std::scoped_lock lock(lensfun());
    const auto lower = [](std::string word) {
        std::transform(word.begin(), word.end(), word.begin(),
                       [](unsigned char c) { return char(std::tolower(c)); });
        return word;
    };
    std::istringstream typed(lower(text));
    const std::vector<std::string> words{std::istream_iterator<std::string>(typed), {}};
    std::set<std::pair<size_t, std::string>> found; // the shortest first
    for (const lfLens *const *each = m_database->GetLenses(); each && *each; ++each) {
        const std::string name = nameOf(**each);
        const std::string in = lower(name);
        if (std::all_of(words.begin(), words.end(), [&](const std::string &word) {
                return in.find(word) != std::string::npos;
            }))
            found.emplace(name.size(), name);
    }
    std::vector<std::string> out;
    for (const auto &[length, name] : found)
        if (out.size() < most)
            out.push_back(name);
    return out;
}

Result<LensProfile> LensLibrary::profileNamed(const std::string &name, const TakenWith &with,
                                              int width, int height) const
{
    const std::scoped_lock lock(lensfun());
    // Of the same name there is one for every size of sensor: the nearest that covers the camera's.
    const Found<lfCamera> cameras(
        m_database->FindCamerasExt(with.maker.c_str(), with.model.c_str()));
    const double crop = cameras.first() ? double(cameras.first()->CropFactor) : 0;
    const lfLens *best = nullptr;
    for (const lfLens *const *each = m_database->GetLenses(); each && *each; ++each) {
        const lfLens &lens = **each;
        if (nameOf(lens) != name)
            continue;
        const auto fits = [&](const lfLens &one) {
            return crop == 0 || double(one.CropFactor) <= crop * 1.04;
        };
        if (!best || (fits(lens) && (!fits(*best) || lens.CropFactor > best->CropFactor)))
            best = &lens;
    }
    if (!best)
        return Error{ErrorKind::NotFound, name, "this lens is not among the measured ones"};
    return profileOf(*best, crop > 0 ? crop : double(best->CropFactor), with, width, height);
}

} // namespace buttonhole

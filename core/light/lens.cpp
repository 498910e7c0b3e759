#include "light/lens.h"

#include "base/param_json.h"
#include "colour/pixel_rows.h"
#include "raster/cubic_rows.h"

#include <cmath>

namespace buttonhole
{

namespace
{

using nlohmann::json;

constexpr float kMostBarrel = 0.12F;
constexpr float kMostStops = 2;
constexpr float kMostFringe = 0.003F;

/// Of a profile's members, by their names in files.
struct ProfileRow {
    const char *id;
    Radial LensProfile::*of;
};
constexpr ProfileRow kProfileRows[] = {{"distortion", &LensProfile::distortion},
                                       {"vignetting", &LensProfile::vignetting},
                                       {"red", &LensProfile::red},
                                       {"blue", &LensProfile::blue}};

/// Both, one after the other.
Radial product(const Radial &a, const Radial &b)
{
    Radial out;
    out.by = {};
    for (size_t i = 0; i < a.by.size(); ++i)
        for (size_t j = 0; i + j < out.by.size(); ++j)
            out.by[i + j] += a.by[i] * b.by[j];
    return out;
}

Radial ofSquare(float share)
{
    Radial out;
    out.by[2] = share;
    return out;
}

uint64_t contentOf(const Radial &radial, uint64_t before)
{
    for (const float v : radial.by)
        before = joinedContent(before, {v});
    return before;
}

/// Light with vignetting and lateral colour taken back.
class LensSource final : public ChangedSource
{
public:
    LensSource(SourceRef before, const Lens &lens)
        : ChangedSource(std::move(before)),
          m_content(joinedContent(in().content(), lens.content())), m_vignetting(lens.vignetting()),
          m_red(lens.red()), m_blue(lens.blue())
    {
    }
    uint64_t content() const override { return m_content; }

    Result<void> fill(int level, LightTile &out, const Run &run) const override
    {
        const bool hasFringes = !m_red.isNone() || !m_blue.isNone();
        if (auto done =
                hasFringes ? readWithoutFringes(level, out, run) : in().read(level, out, run);
            !done)
            return done;
        if (!m_vignetting.isNone())
            lighten(level, out);
        return {};
    }

private:
    /// Where a level's pixel lies, half diagonals from the middle; the level's own px to a unit.
    struct Frame {
        double cx;
        double cy;
        double unit;
    };
    Frame frameOf(int level) const
    {
        const Rect photo = in().rectOf(0);
        const double scale = 1 << level;
        return {photo.width() / scale / 2, photo.height() / scale / 2,
                std::hypot(photo.width(), photo.height()) / scale / 2};
    }

    Result<void> readWithoutFringes(int level, LightTile &out, const Run &run) const
    {
        const Frame frame = frameOf(level);
        const Rect all = in().rectOf(level);
        const Rect &area = out.area();
        double most = 0; // of what is shifted
        constexpr int kPlaces = 8;
        for (const Radial *each : {&m_red, &m_blue})
            for (int i = 1; i <= kPlaces; ++i)
                most = std::max(most, std::abs(each->at(double(i) / kPlaces) - 1) * i / kPlaces);
        constexpr int kKernel = 3;
        const int by = int(std::ceil(most * frame.unit)) + kKernel;
        LightTile wide(intersected({area.x0 - by, area.y0 - by, area.x1 + by, area.y1 + by}, all));
        if (auto done = in().read(level, wide, run); !done)
            return done;
        out.copyFrom(wide);
        for (const auto &[channel, radial] : {std::pair(0, &m_red), {2, &m_blue}})
            if (!radial->isNone())
                for (int y = area.y0; y < area.y1; ++y)
                    shiftRow(wide, *radial, frame, channel, y, out);
        return {};
    }

    static void shiftRow(const LightTile &from, const Radial &radial, const Frame &frame,
                         int channel, int y, LightTile &out)
    {
        const Rect &have = from.area();
        const SampledPlanes plane{{from.row(channel, have.y0)},
                                  1,
                                  from.row(0, have.y0 + 1) - from.row(0, have.y0),
                                  have.width(),
                                  have.height()};
        float px[kRowRun];
        float py[kRowRun];
        const double v = (y + 0.5 - frame.cy) / frame.unit;
        for (int x = out.area().x0; x < out.area().x1; x += kRowRun) {
            const int n = std::min(kRowRun, out.area().x1 - x);
            for (int i = 0; i < n; ++i) {
                const double u = (x + i + 0.5 - frame.cx) / frame.unit;
                const double by = radial.at(std::sqrt(u * u + v * v)) * frame.unit;
                px[i] = float(onGrid(u * by + frame.cx) - 0.5 - have.x0);
                py[i] = float(onGrid(v * by + frame.cy) - 0.5 - have.y0);
            }
            float *const to[3] = {out.at(channel, x, y), nullptr, nullptr};
            sampleCubic(plane, px, py, n, to);
        }
    }

    void lighten(int level, LightTile &out) const
    {
        constexpr double kLeast = 0.05; // whatever a file says
        constexpr int kNodePx = 8;      // straight in between, to one part of a million
        const Frame frame = frameOf(level);
        const Rect &area = out.area();
        for (int y = area.y0; y < area.y1; ++y) {
            const double v = (y + 0.5 - frame.cy) / frame.unit;
            const auto at = [&](int x) {
                const double u = (x + 0.5 - frame.cx) / frame.unit;
                return float(1 / std::max(kLeast, m_vignetting.at(std::sqrt(u * u + v * v))));
            };
            int node = area.x0 / kNodePx * kNodePx;
            for (float left = at(node); node < area.x1; node += kNodePx) {
                const float right = at(node + kNodePx);
                const float step = (right - left) / kNodePx;
                const int from = std::max(node, area.x0);
                const int to = std::min(node + kNodePx, area.x1);
                for (int c = 0; c < 3; ++c)
                    for (int x = from; x < to; ++x)
                        *out.at(c, x, y) *= left + float(x - node) * step;
                left = right;
            }
        }
    }

    uint64_t m_content;
    Radial m_vignetting;
    Radial m_red;
    Radial m_blue;
};

Result<Radial> radialFrom(const json &in, const char *id)
{
    Radial out;
    const bool fits = in.is_array() && in.size() == out.by.size() &&
                      std::all_of(in.begin(), in.end(), [](const json &v) {
                          constexpr double kMost = 100;
                          return v.is_number() && std::abs(v.get<double>()) <= kMost;
                      });
    if (!fits)
        return Error{ErrorKind::InvalidArgument, std::string("profile.") + id,
                     "seven numbers are expected"};
    for (size_t i = 0; i < out.by.size(); ++i)
        out.by[i] = in[i].get<float>();
    return out;
}

Result<LensProfile> profileFrom(const json &in)
{
    LensProfile out;
    if (!in.is_object() || !in.contains("name") || !in.at("name").is_string())
        return Error{ErrorKind::InvalidArgument, "profile", "an object with a name is expected"};
    out.name = in.at("name").get<std::string>();
    for (const ProfileRow &row : kProfileRows)
        if (const auto member = in.find(row.id); member != in.end()) {
            auto radial = radialFrom(*member, row.id);
            if (!radial)
                return radial.error();
            out.*row.of = *radial;
        }
    return out;
}

Result<AdjustmentRef> lensFromJson(const json &in)
{
    LensProfile profile;
    if (const auto member = in.find("profile"); member != in.end()) {
        auto read = profileFrom(*member);
        if (!read)
            return read.error();
        profile = std::move(*read);
    }
    LensAmounts amounts;
    if (auto fine = paramsFromJson(in, amounts, LensAmounts::rows()); !fine)
        return fine.error();
    return AdjustmentRef(std::make_shared<const Lens>(std::move(profile), amounts));
}

} // namespace

std::span<const Param<LensAmounts>> LensAmounts::rows()
{
    using A = LensAmounts;
    static constexpr ParamScale kShare{100, " %"};
    static constexpr ParamScale kByHand{100, "", 0, ParamScale::Way::Eased};
    constexpr float kMost = 1.5F;
    static constexpr Param<A> kRows[] = {
        {"distortion", [](A &a) -> float & { return a.distortion; }, 0, kMost, 10, kShare},
        {"vignetting", [](A &a) -> float & { return a.vignetting; }, 0, kMost, 10, kShare},
        {"fringes", [](A &a) -> float & { return a.fringes; }, 0, kMost, 10, kShare},
        {"barrel", [](A &a) -> float & { return a.barrel; }, -1, 1, 10, kByHand},
        {"corners", [](A &a) -> float & { return a.corners; }, -1, 1, 10, kByHand},
        {"redFringe", [](A &a) -> float & { return a.redFringe; }, -1, 1, 10, kByHand},
        {"blueFringe", [](A &a) -> float & { return a.blueFringe; }, -1, 1, 10, kByHand},
    };
    return kRows;
}

Radial Lens::distortion() const
{
    return product(m_profile.distortion.times(m_amounts.distortion),
                   ofSquare(-kMostBarrel * m_amounts.barrel));
}

Radial Lens::vignetting() const
{
    const float share = std::exp2(-kMostStops * m_amounts.corners) - 1;
    return product(m_profile.vignetting.times(m_amounts.vignetting), ofSquare(share));
}

Radial Lens::red() const
{
    return product(m_profile.red.times(m_amounts.fringes),
                   ofSquare(kMostFringe * m_amounts.redFringe));
}

Radial Lens::blue() const
{
    return product(m_profile.blue.times(m_amounts.fringes),
                   ofSquare(kMostFringe * m_amounts.blueFringe));
}

uint64_t Lens::content() const
{
    return contentOf(
        blue(), contentOf(red(), contentOf(vignetting(), std::hash<std::string_view>()(kKind))));
}

bool Lens::isOff() const
{
    return m_profile.name.empty() && m_amounts == LensAmounts();
}

bool Lens::changesLight() const
{
    return !vignetting().isNone() || !red().isNone() || !blue().isNone();
}

SourceRef Lens::over(SourceRef in) const
{
    return std::make_shared<const LensSource>(std::move(in), *this);
}

void Lens::toJson(json &out) const
{
    paramsToJson(out, m_amounts, LensAmounts::rows());
    if (m_profile.name.empty())
        return;
    json &profile = out["profile"];
    profile["name"] = m_profile.name;
    for (const ProfileRow &row : kProfileRows)
        if (const Radial &radial = m_profile.*row.of; !radial.isNone())
            profile[row.id] = radial.by;
}

AdjustmentRef Lens::withNumber(size_t index, float value) const
{
    return std::make_shared<const Lens>(m_profile,
                                        changed(m_amounts, LensAmounts::rows()[index], value));
}

AdjustmentKind Lens::makeKind()
{
    AdjustmentKind out;
    out.id = kKind;
    out.since = kSince;
    out.numbers = anyParams(LensAmounts::rows());
    out.initial = std::make_shared<const Lens>();
    out.fromJson = lensFromJson;
    return out;
}

} // namespace buttonhole

#include "light/mends.h"

#include "base/content.h"
#include "base/memo.h"

#include <nlohmann/json.hpp>

#include <opencv2/core.hpp>

#include <cmath>

namespace buttonhole
{

namespace
{

using nlohmann::json;

constexpr float kReplaced = 1.25F; ///< radii: fully
constexpr float kFades = 1.6F;     ///< to there
constexpr float kRound = 2.0F;     ///< ground that is compared, from kFades on

uint64_t contentOf(const SpotMend &mend)
{
    const auto &[spot, from, on] = mend;
    return joinedContent(
        0, {spot.x, spot.y, spot.radiusPx, float(from.dx), float(from.dy), on ? 1.0F : 0.0F});
}

/// The difference of two grounds: a surface of the second order, in roots of light, in which grain
/// is nearly the same everywhere.
class GroundDifference
{
public:
    void add(double u, double v, double difference)
    {
        const Terms at = termsAt(u, v);
        m_sums += at * at.t();
        m_wanted += at * difference;
        m_mean += difference;
        ++m_count;
    }
    void solve()
    {
        constexpr int kLeast = 24; // places; a surface through fewer would go anywhere
        m_by = Terms::zeros();
        if (m_count > 0)
            m_by(0) = m_mean / m_count;
        Terms found;
        if (m_count >= kLeast && cv::solve(m_sums, m_wanted, found, cv::DECOMP_CHOLESKY))
            m_by = found;
    }
    double at(double u, double v) const { return m_by.dot(termsAt(u, v)); }

private:
    using Terms = cv::Vec<double, 6>;
    static Terms termsAt(double u, double v) { return {1, u, v, u * u, u * v, v * v}; }

    cv::Matx<double, 6, 6> m_sums = cv::Matx<double, 6, 6>::eye() * 1e-9;
    Terms m_wanted;
    Terms m_by;
    double m_mean = 0;
    int m_count = 0;
};

/// A mend at a level: what is to be seen there.
struct SpotPatch {
    LightTile light;
    float x = 0; ///< the spot, px of the level
    float y = 0;
    float radius = 0;
};

float root(float light)
{
    return std::sqrt(std::max(light, 0.0F));
}

Result<std::shared_ptr<const SpotPatch>> makeSpotPatch(const Source &in, const SpotMend &mend,
                                                       int level, const Run &run)
{
    const auto scale = float(1 << level);
    const Rect all = in.rectOf(level);
    auto out = std::make_shared<SpotPatch>();
    out->x = mend.spot.x / scale;
    out->y = mend.spot.y / scale;
    out->radius = std::max(mend.spot.radiusPx / scale, 0.5F);
    const float reach = kRound * out->radius + 1;
    const auto down = [](float v) { return int(std::floor(v)); };
    const Rect box = intersected({down(out->x - reach), down(out->y - reach),
                                  down(out->x + reach) + 1, down(out->y + reach) + 1},
                                 all);
    if (box.isEmpty())
        return std::shared_ptr<const SpotPatch>();
    const int dx = int(std::lround(float(mend.from.dx) / scale));
    const int dy = int(std::lround(float(mend.from.dy) / scale));
    const Rect there = intersected({box.x0 + dx, box.y0 + dy, box.x1 + dx, box.y1 + dy}, all);
    if (there.isEmpty())
        return std::shared_ptr<const SpotPatch>();
    LightTile own(box);
    LightTile other(there);
    if (auto done = in.read(level, own, run); !done)
        return done.error();
    if (auto done = in.read(level, other, run); !done)
        return done.error();
    out->light.setArea(box);
    for (int c = 0; c < 3; ++c) {
        const auto sourceAt = [&](int x, int y) {
            return *other.at(c, std::clamp(x + dx, there.x0, there.x1 - 1),
                             std::clamp(y + dy, there.y0, there.y1 - 1));
        };
        const auto forAll = [&](auto &&body) {
            for (int y = box.y0; y < box.y1; ++y)
                for (int x = box.x0; x < box.x1; ++x) {
                    const float u = (float(x) + 0.5F - out->x) / out->radius;
                    const float v = (float(y) + 0.5F - out->y) / out->radius;
                    body(x, y, double(u), double(v));
                }
        };
        GroundDifference difference;
        forAll([&](int x, int y, double u, double v) {
            const double r = std::hypot(u, v);
            if (r >= double(kReplaced) && r <= double(kRound))
                difference.add(u, v, double(root(*own.at(c, x, y)) - root(sourceAt(x, y))));
        });
        difference.solve();
        forAll([&](int x, int y, double u, double v) {
            const float made = std::max(0.0F, root(sourceAt(x, y)) + float(difference.at(u, v)));
            *out->light.at(c, x, y) = made * made;
        });
    }
    return std::shared_ptr<const SpotPatch>(out);
}

/// Patches are made once for all tiles that see them.
Result<std::shared_ptr<const SpotPatch>> spotPatchOf(const Source &in, const SpotMend &mend,
                                                     int level, const Run &run)
{
    static Memo memo(256);
    const uint64_t content =
        joinedContent(joinedContent(in.content(), contentOf(mend)), uint64_t(level));
    Error problem;
    const auto found = memo.find(content, [&]() -> Memo::Value {
        auto made = makeSpotPatch(in, mend, level, run);
        if (!made) {
            problem = made.error();
            return nullptr;
        }
        return *made ? *made : std::make_shared<const SpotPatch>();
    });
    if (!found)
        return problem.detail.empty() && problem.subject.empty()
                   ? Error{ErrorKind::Cancelled, {}, {}}
                   : problem;
    return std::static_pointer_cast<const SpotPatch>(found);
}

void laySpot(const SpotPatch &patch, LightTile &out)
{
    const Rect shared = intersected(patch.light.area(), out.area());
    for (int y = shared.y0; y < shared.y1; ++y)
        for (int x = shared.x0; x < shared.x1; ++x) {
            const float r =
                std::hypot(float(x) + 0.5F - patch.x, float(y) + 0.5F - patch.y) / patch.radius;
            const float t = std::clamp((kFades - r) / (kFades - kReplaced), 0.0F, 1.0F);
            const float share = t * t * (3 - 2 * t);
            if (share > 0)
                for (int c = 0; c < 3; ++c) {
                    float &to = *out.at(c, x, y);
                    to += share * (*patch.light.at(c, x, y) - to);
                }
        }
}

class MendedSource final : public ChangedSource
{
public:
    MendedSource(SourceRef before, const Mends &mends)
        : ChangedSource(std::move(before)), m_mends(mends.spots()),
          m_content(joinedContent(in().content(), mends.content()))
    {
    }
    uint64_t content() const override { return m_content; }
    Result<void> fill(int level, LightTile &out, const Run &run) const override
    {
        if (auto done = in().read(level, out, run); !done)
            return done;
        for (const SpotMend &mend : m_mends) {
            constexpr float kLeastSeen = 0.3F; // px of the level
            const bool isSeen = mend.spot.radiusPx >= kLeastSeen * float(1 << level);
            if (!mend.on || !isSeen ||
                intersected(atLevel(reachOf(mend), level), out.area()).isEmpty())
                continue;
            const auto patch = spotPatchOf(in(), mend, level, run);
            if (!patch)
                return patch.error();
            laySpot(**patch, out);
        }
        return {};
    }

private:
    std::vector<SpotMend> m_mends;
    uint64_t m_content;
};

Result<AdjustmentRef> mendsFromJson(const json &in)
{
    const auto member = in.find("spots");
    std::vector<SpotMend> spots;
    if (member == in.end())
        return AdjustmentRef(std::make_shared<const Mends>());
    const auto bad = [](const char *what) {
        return Error{ErrorKind::InvalidArgument, "spots", what};
    };
    if (!member->is_array() || member->size() > Mends::kMost)
        return bad("a list of at most 2000 spots is expected");
    for (const json &each : *member) {
        const auto number = [&](const char *id) {
            if (!each.is_object() || !each.contains(id) || !each.at(id).is_number())
                return std::nan("");
            return each.at(id).get<double>();
        };
        constexpr double kFar = 1 << 20; // more than any photo's side, px
        const double x = number("x");
        const double y = number("y");
        const double radius = number("radius");
        const double dx = number("dx");
        const double dy = number("dy");
        if (!(std::abs(x) <= kFar && std::abs(y) <= kFar && std::abs(dx) <= kFar &&
              std::abs(dy) <= kFar && radius >= double(Mends::kLeastRadiusPx) &&
              radius <= double(Mends::kMostRadiusPx)))
            return bad("x, y, dx and dy on the photo and a radius from 0.5 to 500 are expected");
        const auto on = each.find("on");
        spots.push_back({{float(x), float(y), float(radius)},
                         {int(std::lround(dx)), int(std::lround(dy))},
                         on == each.end() || !on->is_boolean() || on->get<bool>()});
    }
    return AdjustmentRef(std::make_shared<const Mends>(std::move(spots)));
}

} // namespace

Rect reachOf(const SpotMend &mend)
{
    const float reach = kFades * mend.spot.radiusPx + 2;
    const auto down = [](float v) { return int(std::floor(v)); };
    return {down(mend.spot.x - reach), down(mend.spot.y - reach), down(mend.spot.x + reach) + 1,
            down(mend.spot.y + reach) + 1};
}

uint64_t Mends::content() const
{
    uint64_t out = std::hash<std::string_view>()(kKind);
    for (const SpotMend &mend : m_spots)
        if (mend.on)
            out = joinedContent(out, contentOf(mend));
    return out;
}

bool Mends::changesLight() const
{
    return std::any_of(m_spots.begin(), m_spots.end(), [](const SpotMend &m) { return m.on; });
}

SourceRef Mends::over(SourceRef in) const
{
    return std::make_shared<const MendedSource>(std::move(in), *this);
}

void Mends::toJson(json &out) const
{
    json &spots = out["spots"] = json::array();
    for (const auto &[spot, from, on] : m_spots) {
        json each{{"x", spot.x},
                  {"y", spot.y},
                  {"radius", spot.radiusPx},
                  {"dx", from.dx},
                  {"dy", from.dy}};
        if (!on)
            each["on"] = false;
        spots.push_back(std::move(each));
    }
}

AdjustmentKind Mends::makeKind()
{
    AdjustmentKind out;
    out.id = kKind;
    out.since = kSince;
    out.initial = std::make_shared<const Mends>();
    out.fromJson = mendsFromJson;
    return out;
}

} // namespace buttonhole

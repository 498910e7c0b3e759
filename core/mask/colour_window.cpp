#include "mask/colour_window.h"

#include "mask/step_json.h"
#include "mask/window_rows.h"

#include <cmath>

namespace buttonhole
{

namespace
{

using nlohmann::json;

constexpr float kMostChroma = 0.5F;
constexpr double kRadPerDeg = 3.14159265358979323846 / 180.0;

/// The hue, degrees, of a turn.
double degOf(double turn)
{
    const double part = turn <= 1 ? turn : turn <= 3 ? 2 - turn : turn - 4;
    const double side = 1 - std::abs(part);
    return std::atan2(part, turn > 1 && turn < 3 ? -side : side) / kRadPerDeg;
}

using Way = ParamScale::Way;
constexpr ParamScale kTurn{1, "°", 0, Way::Hues};
constexpr ParamScale kDegrees{1, "°"};
constexpr ParamScale kSoftDegrees{1, "°", 0, Way::Even, 0, 90};
constexpr ParamScale kLeastChroma{100, "", 0, Way::Even, 0, 0.4F};
constexpr ParamScale kChroma{100, "", 0, Way::Even, 0, 0.5F, false}; // picks set these
constexpr ParamScale kSoftLightness{100, " %", 0, Way::Even, 0, 1, false};
constexpr ParamScale kOfLightness{100, " %", 0, Way::Even, 0, 1};

constexpr Param<ColourRange> kColourParams[] = {
    {"hueDeg", [](ColourRange &r) -> float & { return r.hueDeg; }, 0, 360, 1, kTurn},
    {"hueWidthDeg", [](ColourRange &r) -> float & { return r.hueWidthDeg; }, 0, 360, 1, kDegrees},
    {"hueSoftDeg", [](ColourRange &r) -> float & { return r.hueSoftDeg; }, 0, 180, 1, kSoftDegrees},
    {"chroma.least", [](ColourRange &r) -> float & { return r.chroma.least; }, 0, 2, 1,
     kLeastChroma},
    {"chroma.most", [](ColourRange &r) -> float & { return r.chroma.most; }, 0, 2, 1, kChroma},
    {"chroma.soft", [](ColourRange &r) -> float & { return r.chroma.soft; }, 0, 1, 1, kChroma},
    {"lightness.least", [](ColourRange &r) -> float & { return r.lightness.least; }, 0, 2, 1,
     kOfLightness},
    {"lightness.most", [](ColourRange &r) -> float & { return r.lightness.most; }, 0, 2, 1,
     kOfLightness},
    {"lightness.soft", [](ColourRange &r) -> float & { return r.lightness.soft; }, 0, 1, 1,
     kSoftLightness}};

json rangeToJson(const ColourRange &range)
{
    json out = json::object();
    paramsToJson(out, range, colourRangeParams(), ParamsWritten::All);
    return out;
}

Result<ColourRange> rangeFromJson(const json &in)
{
    ColourRange out;
    if (auto fine = paramsFromJson(in, out, colourRangeParams(), "colour window "); !fine)
        return fine.error();
    return out;
}

} // namespace

std::span<const Param<ColourRange>> colourRangeParams()
{
    return kColourParams;
}

ColourWindowStep::ColourWindowStep(ColourWindow window)
    : PixelStep(window.isConnected ? window.places : std::vector<PhotoPoint>()),
      m_window(std::move(window)), m_range(tabled(m_window.range))
{
    for (const ColourRange &range : m_window.excluded)
        m_excluded.push_back(tabled(range));
}

ColourWindowStep::Tabled ColourWindowStep::tabled(const ColourRange &range)
{
    Tabled out{range, std::vector<float>(kWindowHueSteps + 2)};
    const float half = range.hueWidthDeg / 2;
    const SoftRange hue{-half, half, range.hueSoftDeg};
    for (int i = 0; i < kWindowHueSteps + 2; ++i) {
        const double deg = degOf(4.0 * (i % kWindowHueSteps) / kWindowHueSteps);
        out.hue[size_t(i)] = hue.at(float(std::remainder(deg - double(range.hueDeg), 360.0)));
    }
    return out;
}

void ColourWindowStep::coverageRow(const float *L, const float *a, const float *b, int n,
                                   float *out) const
{
    const auto rowOf = [](const Tabled &in) {
        return RangeRow{&in.range.chroma, &in.range.lightness, in.hue.data()};
    };
    std::vector<RangeRow> excluded;
    std::transform(m_excluded.begin(), m_excluded.end(), std::back_inserter(excluded), rowOf);
    windowRow(rowOf(m_range), m_window.followsShading, excluded.data(), excluded.size(), L, a, b, n,
              out);
}

StepFacts ColourWindowStep::facts() const
{
    return {{"hueDeg", m_window.range.hueDeg},
            {"hueWidthDeg", m_window.range.hueWidthDeg},
            {"connected", isConnected()}};
}

void ColourWindowStep::toJson(json &out, MaskWriter *, const std::string &) const
{
    out["range"] = rangeToJson(m_window.range);
    out["followsShading"] = m_window.followsShading;
    if (!m_window.excluded.empty())
        out["excluded"] = json::array();
    for (const ColourRange &range : m_window.excluded)
        out["excluded"].push_back(rangeToJson(range));
    placesToJson(out, m_window.places);
    out["connected"] = m_window.isConnected;
}

Result<std::shared_ptr<const StepShape>> ColourWindowStep::fromJson(const json &in, MaskReader &)
{
    ColourWindow window;
    const auto range = rangeFromJson(in.at("range"));
    if (!range)
        return range.error();
    window.range = *range;
    window.followsShading = in.value("followsShading", true);
    const json left = in.value("excluded", json::array());
    if (left.size() > kMostPicks)
        return wrongInput("colour-window excluded", "there are more than 1000");
    for (const json &each : left) {
        const auto excluded = rangeFromJson(each);
        if (!excluded)
            return excluded.error();
        window.excluded.push_back(*excluded);
    }
    auto places = placesFromJson(in);
    if (!places)
        return places.error();
    window.places = std::move(*places);
    window.isConnected = in.value("connected", false);
    return std::shared_ptr<const StepShape>(std::make_shared<ColourWindowStep>(std::move(window)));
}

ColourRange rangeAround(const ColourSpread &spread)
{
    ColourRange out;
    // Lit and shaded parts of one thing differ by a few degrees; noise turns the hue of weak
    // colours further.
    const float noise = std::min(4 + 0.35F / std::max(spread.leastChroma, 0.01F), 40.0F);
    const float below = std::min(spread.hueBelowDeg + noise, 179.0F);
    const float above = std::min(spread.hueAboveDeg + noise, 179.0F);
    out.hueDeg = std::fmod(spread.hueDeg + (above - below) / 2 + 360, 360.0F);
    out.hueWidthDeg = below + above;
    out.hueSoftDeg = std::min(noise, 180.0F);
    out.chroma.least = spread.leastChroma * 0.6F;
    out.chroma.most = kMostChroma;
    out.chroma.soft = std::max(spread.leastChroma * 0.2F, 0.004F);
    out.lightness.least = std::max(spread.leastLightness - 0.10F, 0.0F);
    out.lightness.most = std::min(spread.mostLightness + 0.10F, 1.0F);
    out.lightness.soft = 0.08F;
    return out;
}

ColourRange widened(const ColourRange &range, const ColourSpread &spread)
{
    const ColourRange more = rangeAround(spread);
    ColourRange out = range;
    // Both arcs, measured from the first one's middle.
    const float to = std::remainder(more.hueDeg - range.hueDeg, 360.0F);
    const float low = std::min(-range.hueWidthDeg / 2, to - more.hueWidthDeg / 2);
    const float high = std::max(range.hueWidthDeg / 2, to + more.hueWidthDeg / 2);
    out.hueWidthDeg = std::min(high - low, 360.0F);
    out.hueDeg = std::fmod(range.hueDeg + (low + high) / 2 + 720, 360.0F);
    out.chroma.least = std::min(range.chroma.least, more.chroma.least);
    out.chroma.most = std::max(range.chroma.most, more.chroma.most);
    out.lightness.least = std::min(range.lightness.least, more.lightness.least);
    out.lightness.most = std::max(range.lightness.most, more.lightness.most);
    return out;
}

} // namespace buttonhole

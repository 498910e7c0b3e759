#include "mask/tone_window.h"

#include "mask/step_json.h"
#include "mask/window_rows.h"

namespace buttonhole
{

using nlohmann::json;

namespace
{

constexpr ParamScale kOfTone{100, " %", 0, ParamScale::Way::Even, 0, 1};
constexpr ParamScale kSoft{100, " %", 0, ParamScale::Way::Even, 0, 0.5F};

constexpr Param<ToneRange> kToneParams[] = {
    {"least", [](ToneRange &r) -> float & { return r.least; }, 0, 2, 1, kOfTone},
    {"most", [](ToneRange &r) -> float & { return r.most; }, 0, 2, 1, kOfTone},
    {"soft", [](ToneRange &r) -> float & { return r.soft; }, 0, 1, 1, kSoft}};

} // namespace

std::span<const Param<ToneRange>> toneRangeParams()
{
    return kToneParams;
}

void ToneWindowStep::coverageRow(const float *L, const float *, const float *, int n,
                                 float *out) const
{
    softRow(m_lightness, L, n, out);
}

StepFacts ToneWindowStep::facts() const
{
    return {{"least", m_lightness.least}, {"most", m_lightness.most}, {"connected", isConnected()}};
}

void ToneWindowStep::toJson(json &out, MaskWriter *, const std::string &) const
{
    paramsToJson(out, ToneRange(m_lightness), toneRangeParams(), ParamsWritten::All);
    placesToJson(out, places());
}

Result<std::shared_ptr<const StepShape>> ToneWindowStep::fromJson(const json &in, MaskReader &)
{
    ToneRange range;
    if (auto fine = paramsFromJson(in, range, toneRangeParams(), "tone window "); !fine)
        return fine.error();
    auto places = placesFromJson(in);
    if (!places)
        return places.error();
    return std::shared_ptr<const StepShape>(
        std::make_shared<ToneWindowStep>(range, std::move(*places)));
}

} // namespace buttonhole

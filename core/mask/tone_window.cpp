#include "mask/tone_window.h"

#include "mask/step_json.h"
#include "mask/window_rows.h"

namespace buttonhole
{

using nlohmann::json;

void ToneWindowStep::coverageRow(const float *L, const float *, const float *, int n,
                                 float *out) const
{
    softRow(m_lightness, L, n, out);
}

std::string ToneWindowStep::summary() const
{
    const auto percent = [](float v) { return std::to_string(std::lround(v * 100)); };
    return percent(m_lightness.least) + " to " + percent(m_lightness.most) + " %" +
           (isConnected() ? ", connected" : "");
}

void ToneWindowStep::toJson(json &out, MaskWriter *, const std::string &) const
{
    out["least"] = m_lightness.least;
    out["most"] = m_lightness.most;
    out["soft"] = m_lightness.soft;
    placesToJson(out, places());
}

Result<std::shared_ptr<const StepShape>> ToneWindowStep::fromJson(const json &in, MaskReader &)
{
    SoftRange range{0, 1, 0.05F};
    if (auto fine = readNumbers(in, "tone window",
                                {{"least", &range.least, 0, 2},
                                 {"most", &range.most, 0, 2},
                                 {"soft", &range.soft, 0, 1}});
        !fine)
        return fine.error();
    auto places = placesFromJson(in);
    if (!places)
        return places.error();
    return std::shared_ptr<const StepShape>(
        std::make_shared<ToneWindowStep>(range, std::move(*places)));
}

} // namespace buttonhole

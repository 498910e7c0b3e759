#include "light/photo_light.h"

#include "base/each_cpu.h"
#include "colour/oklab.h"
#include "light/lab_tile.h"
#include "light/lightness_curve.h"
#include "light/white_balance.h"

#include <cmath>

namespace buttonhole
{

namespace
{

constexpr double kMiddle = 0.56; ///< OKLab L of a grey card, nearly

/// What an L becomes; brighter than white goes on.
double curved(double L, const PhotoLight &light)
{
    constexpr double kMostPoint = 0.3;
    const double black = kMostPoint * double(light.blackPoint);
    const double white = 1 - kMostPoint * double(light.whitePoint);
    L = std::max(0.0, (L - black) / (white - black));
    const double shadows = double(light.liftShadows);
    if (L < kMiddle) {
        const double at = L / kMiddle;
        L += kMiddle * (shadows > 0 ? 1.2 : 0.8) * shadows * at * (1 - at) * (1 - at);
    }
    const double hold = double(light.holdHighlights);
    if (L > kMiddle) {
        const double at = (L - kMiddle) / (1 - kMiddle);
        L = kMiddle + (1 - kMiddle) * (hold > 0 ? at / (1 + 0.6 * hold * at)
                                                : at * (1 - 0.3 * hold * std::min(at, 1.0)));
    }
    const double steep = std::exp2(0.8 * double(light.contrast));
    if (L < kMiddle)
        return kMiddle * std::pow(L / kMiddle, steep);
    if (L < 1)
        return 1 - (1 - kMiddle) * std::pow((1 - L) / (1 - kMiddle), steep);
    return L;
}

BUTTONHOLE_EACH_CPU
void gainRow(float gain, int n, float *light)
{
    for (int i = 0; i < n; ++i)
        light[i] *= gain;
}

/// Everything of a light for one space, ready for rows.
class LightRow
{
public:
    LightRow(const PhotoLight &light, const LightSpace &space)
        : m_toLms(space.toLms), m_fromLms(space.fromLms), m_saturation(1 + light.saturation),
          m_faint(light.faintColours)
    {
        const Matrix3 balance =
            balanceMatrix(double(light.temperature), double(light.greenMagenta), space);
        const double gain = std::exp2(double(light.exposureEv));
        for (size_t i = 0; i < 9; ++i)
            m_matrix[i] = float(gain * balance[i / 3][i % 3]);
        m_gain = float(gain);
        m_isBalanced = light.temperature != 0 || light.greenMagenta != 0;
        PhotoLight rest = light;
        rest.exposureEv = rest.temperature = rest.greenMagenta = 0;
        m_isCurved = !(rest == PhotoLight());
        m_curve = LightnessCurve([&](double L) { return curved(L, light); });
    }

    /// What is neutral stays so.
    bool leavesNeutral() const { return !m_isBalanced; }
    /// Rows padded for SIMD.
    void apply(int n, float *r, float *g, float *b) const
    {
        if (m_isBalanced)
            matrixRow(m_matrix.data(), n, r, g, b);
        else if (m_gain != 1)
            for (float *row : {r, g, b})
                gainRow(m_gain, n, row);
        if (!m_isCurved)
            return;
        exactLabRow(m_toLms.data(), n, r, g, b);
        m_curve.apply(m_saturation, m_faint, n, r, g, b);
        linearOfExactLabRow(m_fromLms.data(), n, r, g, b);
    }
    /// The same of neutral light.
    void apply(int n, float *y) const
    {
        if (m_gain != 1)
            gainRow(m_gain, n, y);
        if (!m_isCurved)
            return;
        neutralLabRow(n, y);
        m_curve.apply(n, y);
        linearOfNeutralLabRow(n, y);
    }

private:
    std::array<float, 9> m_toLms;
    std::array<float, 9> m_fromLms;
    std::array<float, 9> m_matrix{};
    float m_gain = 1;
    LightnessCurve m_curve;
    float m_saturation;
    float m_faint;
    bool m_isBalanced = false;
    bool m_isCurved = false;
};

} // namespace

std::span<const Param<PhotoLight>> PhotoLight::rows()
{
    using P = PhotoLight;
    static constexpr ParamScale kPercent{100};
    static constexpr Param<P> kRows[] = {
        {"exposureEv", [](P &p) -> float & { return p.exposureEv; }, -5, 5, kSince, {1, " EV", 2}},
        {"contrast", [](P &p) -> float & { return p.contrast; }, -1, 1, kSince, kPercent},
        {"liftShadows", [](P &p) -> float & { return p.liftShadows; }, -1, 1, kSince, kPercent},
        {"holdHighlights", [](P &p) -> float & { return p.holdHighlights; }, -1, 1, kSince,
         kPercent},
        {"blackPoint", [](P &p) -> float & { return p.blackPoint; }, -1, 1, kSince, kPercent},
        {"whitePoint", [](P &p) -> float & { return p.whitePoint; }, -1, 1, kSince, kPercent},
        {"temperature", [](P &p) -> float & { return p.temperature; }, -1, 1, kSince, kPercent},
        {"greenMagenta", [](P &p) -> float & { return p.greenMagenta; }, -1, 1, kSince, kPercent},
        {"saturation", [](P &p) -> float & { return p.saturation; }, -1, 1, kSince, kPercent},
        {"faintColours", [](P &p) -> float & { return p.faintColours; }, -1, 1, kSince, kPercent}};
    return kRows;
}

LightChange PhotoLight::change(const LightSpace &space) const
{
    const auto row = std::make_shared<const LightRow>(*this, space);
    return [row](const Source &in, int level, LightTile &out, const Run &run) -> Result<void> {
        if (auto done = in.readPlanes(level, out, run); !done)
            return done;
        if (!row->leavesNeutral())
            out.spread();
        forEachRun(out, [&](int n, float *r, float *g, float *b) {
            out.isNeutral() ? row->apply(n, r) : row->apply(n, r, g, b);
        });
        return {};
    };
}

} // namespace buttonhole

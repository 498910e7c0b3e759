#pragma once

#include <array>
#include <cstddef>

namespace buttonhole
{

/// A curve of OKLab lightness as a table, for rows.
class LightnessCurve
{
public:
    static constexpr float kMostL = 2; ///< lighter keeps its distance to what that becomes

    LightnessCurve() = default;
    /// @param curve double (double L), of 0..kMostL
    template <class Curve>
    explicit LightnessCurve(const Curve &curve)
    {
        for (int i = 0; i < kSteps + 2; ++i)
            m_table[size_t(i)] = float(curve(i * double(kMostL) / kSteps));
    }

    /// OKLab in place; colour follows lightness.
    /// @param saturation of all colour, a factor; @param faintColours more of what is weak
    void apply(float saturation, float faintColours, int n, float *L, float *a, float *b) const;
    /// The same of what has no colour.
    void apply(int n, float *L) const;

private:
    static constexpr int kSteps = 2048;
    std::array<float, kSteps + 2> m_table{};
};

} // namespace buttonhole

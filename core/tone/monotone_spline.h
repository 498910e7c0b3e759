#pragma once

#include <algorithm>
#include <cmath>
#include <vector>

namespace buttonhole
{

/// A curve through knots that never swings past them: where the knots rise it rises, where they are
/// level it is level. Slopes are continuous.
/// Source: F. N. Fritsch and J. Butland, "A method for constructing local monotone piecewise cubic
/// interpolants", SIAM J. Sci. Stat. Comput. 5 (1984).
class MonotoneSpline
{
public:
    struct Knot {
        double x = 0;
        double y = 0;
    };
    /// @param knots by rising x, at least one; outside them the curve goes on level
    explicit MonotoneSpline(std::vector<Knot> knots)
        : m_knots(std::move(knots)), m_slopes(m_knots.size(), 0.0)
    {
        const size_t n = m_knots.size();
        for (size_t i = 1; i + 1 < n; ++i) {
            const double before = m_knots[i].x - m_knots[i - 1].x;
            const double after = m_knots[i + 1].x - m_knots[i].x;
            const double left = (m_knots[i].y - m_knots[i - 1].y) / before;
            const double right = (m_knots[i + 1].y - m_knots[i].y) / after;
            if (left * right > 0) {
                const double share = (before + 2 * after) / (3 * (before + after));
                m_slopes[i] = left * right / (share * right + (1 - share) * left);
            }
        }
        if (n > 1) {
            m_slopes.front() = endSlope(0, 1, n > 2 ? 2 : 1);
            m_slopes.back() = endSlope(n - 1, n - 2, n > 2 ? n - 3 : n - 2);
        }
    }

    double operator()(double x) const
    {
        if (x <= m_knots.front().x)
            return m_knots.front().y;
        if (x >= m_knots.back().x)
            return m_knots.back().y;
        const auto next = std::upper_bound(m_knots.begin(), m_knots.end(), x,
                                           [](double at, const Knot &k) { return at < k.x; });
        const size_t i = size_t(next - m_knots.begin()) - 1;
        const double h = m_knots[i + 1].x - m_knots[i].x;
        const double t = (x - m_knots[i].x) / h;
        const double u = 1 - t;
        return u * u * (1 + 2 * t) * m_knots[i].y + t * t * (1 + 2 * u) * m_knots[i + 1].y +
               h * t * u * (u * m_slopes[i] - t * m_slopes[i + 1]);
    }

private:
    /// One-sided three-point slope, kept from overshooting.
    double endSlope(size_t end, size_t near, size_t far) const
    {
        const double h0 = m_knots[near].x - m_knots[end].x;
        const double d0 = (m_knots[near].y - m_knots[end].y) / h0;
        if (far == near)
            return d0;
        const double h1 = m_knots[far].x - m_knots[near].x;
        const double d1 = (m_knots[far].y - m_knots[near].y) / h1;
        const double slope = ((2 * h0 + h1) * d0 - h0 * d1) / (h0 + h1);
        if (slope * d0 <= 0)
            return 0;
        return d0 * d1 <= 0 && std::abs(slope) > 3 * std::abs(d0) ? 3 * d0 : slope;
    }

    std::vector<Knot> m_knots;
    std::vector<double> m_slopes;
};

} // namespace buttonhole

#include "geometry/drawn_lines.h"

#include <cmath>

namespace buttonhole
{

namespace
{

constexpr double kDegrees = 57.29577951308232;

/// How far a line is from what it should be once it is levelled, degrees.
double error(const DrawnLine &line, bool isUpright, const Warp &warp)
{
    const auto from = warp.toLevelled(double(line.from.x), double(line.from.y));
    const auto to = warp.toLevelled(double(line.to.x), double(line.to.y));
    const double dx = to[0] - from[0];
    const double dy = to[1] - from[1];
    const double along = isUpright ? std::atan2(-dx, dy) : std::atan2(dy, dx);
    return std::remainder(along * kDegrees, 180);
}

float kept(float value, const Param<Straightening> &row)
{
    return std::clamp(value, row.least, row.most);
}

} // namespace

Straightening straightenedBy(const std::vector<DrawnLine> &lines, const Straightening &now,
                             const Radial &distortion, int width, int height)
{
    std::vector<bool> isUpright;
    int uprights = 0;
    for (const DrawnLine &line : lines) {
        const Warp as(now, distortion, width, height);
        isUpright.push_back(std::abs(error(line, true, as)) < std::abs(error(line, false, as)));
        uprights += isUpright.back() ? 1 : 0;
    }
    // The numbers that are found: the angle, and a tilt where two lines of a kind tell of it.
    std::vector<size_t> free{0};
    if (uprights >= 2)
        free.push_back(1);
    if (int(lines.size()) - uprights >= 2)
        free.push_back(2);
    const auto rows = Straightening::rows();
    const auto errorsAt = [&](const Straightening &at) {
        const Warp warp(at, distortion, width, height);
        std::vector<double> out;
        for (size_t i = 0; i < lines.size(); ++i)
            out.push_back(error(lines[i], isUpright[i], warp));
        return out;
    };
    // Gauss and Newton: each number in turn by what a small change of it does, until all rest.
    Straightening at = now;
    constexpr int kRounds = 60;
    constexpr float kStep = 0.05F; // degrees
    for (int round = 0; round < kRounds; ++round) {
        double moved = 0;
        for (const size_t i : free) {
            const std::vector<double> here = errorsAt(at);
            const std::vector<double> there =
                errorsAt(changed(at, rows[i], rows[i].get(at) + kStep));
            double slopes = 0;
            double both = 0;
            for (size_t k = 0; k < here.size(); ++k) {
                const double slope = (there[k] - here[k]) / double(kStep);
                slopes += slope * slope;
                both += slope * here[k];
            }
            if (slopes < 1e-9)
                continue;
            const float before = rows[i].get(at);
            rows[i].of(at) = kept(before - float(both / slopes), rows[i]);
            moved = std::max(moved, std::abs(double(rows[i].get(at) - before)));
        }
        if (moved < 1e-4)
            break;
    }
    return at;
}

} // namespace buttonhole

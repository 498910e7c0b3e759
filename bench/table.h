#pragma once

#include <algorithm>
#include <cstdio>
#include <string>
#include <vector>

namespace buttonhole::bench
{

/// One line of the table that scripts/bench collects into docs/performance.md: a figure beside its
/// reference, both measured in this run.
struct Line {
    std::string what;
    std::string figure;    ///< e.g. "7.1 ms (99 %: 11.0)"
    std::string reference; ///< e.g. "decode alone 330 ms"
    std::string ratio;     ///< figure / reference, or empty
    std::string bar;       ///< what is wanted
    bool holds = true;
};

inline void print(const Line &line)
{
    std::printf("| %s | %s | %s | %s | %s | %s |\n", line.what.c_str(), line.figure.c_str(),
                line.reference.c_str(), line.ratio.c_str(), line.bar.c_str(),
                line.bar.empty() ? "" : (line.holds ? "yes" : "**no**"));
    std::fflush(stdout);
}

inline std::string text(const char *format, double value)
{
    char out[64];
    std::snprintf(out, sizeof out, format, value);
    return out;
}

/// Values in ascending order, and the value below which `share` of them lie.
inline double quantile(std::vector<double> values, double share)
{
    std::sort(values.begin(), values.end());
    return values.empty() ? 0 : values[size_t(share * double(values.size() - 1))];
}

inline double median(const std::vector<double> &values)
{
    return quantile(values, 0.5);
}

} // namespace buttonhole::bench

#pragma once

#include <array>
#include <cstdint>
#include <functional>
#include <vector>

namespace buttonhole::test
{

/// A raw photo as a camera would have written it: a DNG (Adobe, "Digital Negative Specification",
/// 1.4) of 16 bits without compression, red, green, green and blue in squares of four, whose sensor
/// sees linear sRGB times `neutral`.
/// @param paint light at a pixel, 0..1 of what fills the sensor; more than that is cut off
/// @param neutral what the camera said that something neutral is
std::vector<uint8_t> makeDng(int width, int height, const std::array<double, 3> &neutral,
                             const std::function<std::array<double, 3>(int x, int y)> &paint);

} // namespace buttonhole::test

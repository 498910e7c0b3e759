#pragma once

#include "lettering/lettering.h"

#include <cstdint>

namespace buttonhole
{

/// An SVG, drawn by a program of its own (helper/draw_svg.cpp): whatever it does there, with
/// filters without end, masks in masks or faults of the library, harms neither this program nor
/// the machine. Errors: Damaged (no SVG), BadValue (it
/// cannot be drawn); NotFound (the installation is incomplete).
Result<std::shared_ptr<const Drawing>> drawingOfSvg(const std::string &bytes);

/// What the program answers before the pixels: red, green, blue and alpha, multiplied by alpha.
struct SvgAnswer {
    double width = 0;
    double height = 0;
    int32_t pxWide = 0;
    int32_t pxHigh = 0;
};

/// Its exit statuses.
enum class SvgEnd { Fine = 0, NoSvg = 80, NoSize, NotDrawn, NoMemory };

} // namespace buttonhole

#pragma once

#include "light/number_adjustment.h"

namespace buttonhole
{

/// What is laid round the picture, or over its border, when it leaves: of the finish; its lengths
/// are shares of the picture's shorter edge. It changes no light; export/mount.h draws it.
struct Frame {
    float width = 0;     ///< 0..0.4, of every side
    float over = 0;      ///< 0..1: share of it that lies over the picture; the rest makes it larger
    float moreAbove = 0; ///< 0..0.4, added to a side
    float moreRight = 0;
    float moreBelow = 0;
    float moreLeft = 0;
    float lightness = 1;        ///< OKLab L of the frame
    float hueDeg = 60;          ///< OKLCh
    float colour = 0;           ///< 0..1 of a chroma of 0.15
    float opacity = 1;          ///< 0..1
    float corners = 0;          ///< 0..0.5: radius of the picture's corners
    float lineWidth = 0;        ///< 0..0.03: a line round the picture
    float lineGap = 0.01F;      ///< -0.1..0.2: how far from the picture's edge; below 0 over it
    float lineLightness = 0.2F; ///< OKLab L of the line
    float shadow = 0; ///< -1..1: of the picture on the frame; below 0 of the frame on the picture
    float shadowSize = 0.02F; ///< 0..0.1: to a third of it

    static constexpr std::string_view kKind = "frame";
    static constexpr int kSince = 11;
    static std::span<const Param<Frame>> rows();
    int reachPx() const { return 0; }
};

} // namespace buttonhole

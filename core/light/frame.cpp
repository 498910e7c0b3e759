#include "light/frame.h"

namespace buttonhole
{

std::span<const Param<Frame>> Frame::rows()
{
    using F = Frame;
    static constexpr float kMostWidth = 0.4F;
    static constexpr ParamScale kOfEdge{100, " %", 1};
    static constexpr ParamScale kShare{100, " %"};
    static constexpr ParamScale kPlain{100};
    static constexpr Param<F> kRows[] = {
        {"width",
         [](F &f) -> float & { return f.width; },
         0,
         kMostWidth,
         kSince,
         {100, " %", 1, ParamScale::Way::Eased}},
        {"over", [](F &f) -> float & { return f.over; }, 0, 1, kSince, kShare},
        {"lightness", [](F &f) -> float & { return f.lightness; }, 0, 1, kSince, kPlain},
        {"colour", [](F &f) -> float & { return f.colour; }, 0, 1, kSince, kPlain},
        {"hueDeg",
         [](F &f) -> float & { return f.hueDeg; },
         0,
         360,
         kSince,
         {1, "°", 0, ParamScale::Way::Hues}},
        {"opacity", [](F &f) -> float & { return f.opacity; }, 0, 1, kSince, kShare},
        {"corners", [](F &f) -> float & { return f.corners; }, 0, 0.5F, kSince, kOfEdge},
        {"lineWidth", [](F &f) -> float & { return f.lineWidth; }, 0, 0.03F, kSince, kOfEdge},
        {"lineGap", [](F &f) -> float & { return f.lineGap; }, -0.1F, 0.2F, kSince, kOfEdge},
        {"lineLightness", [](F &f) -> float & { return f.lineLightness; }, 0, 1, kSince, kPlain},
        {"shadow", [](F &f) -> float & { return f.shadow; }, -1, 1, kSince, kPlain},
        {"shadowSize", [](F &f) -> float & { return f.shadowSize; }, 0, 0.1F, kSince, kOfEdge},
        {"moreAbove", [](F &f) -> float & { return f.moreAbove; }, 0, kMostWidth, kSince, kOfEdge},
        {"moreBelow", [](F &f) -> float & { return f.moreBelow; }, 0, kMostWidth, kSince, kOfEdge},
        {"moreLeft", [](F &f) -> float & { return f.moreLeft; }, 0, kMostWidth, kSince, kOfEdge},
        {"moreRight", [](F &f) -> float & { return f.moreRight; }, 0, kMostWidth, kSince, kOfEdge}};
    return kRows;
}

} // namespace buttonhole

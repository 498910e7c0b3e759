#include "render/view.h"

#include <cassert>
#include <iterator>

namespace buttonhole
{

namespace
{

constexpr ViewKind kKinds[] = {
    {View::Result, "result", true, true, true, paintResult},
    {View::Original, "original", false, false, false, paintOriginal},
    {View::Mask, "mask", true, false, false, paintMask},
    {View::Tinted, "tinted", true, false, false, paintTinted},
    {View::CutOut, "cut-out", true, true, false, paintCutOut},
    {View::ColourMap, "colour-map", false, false, false, paintColourMap},
    {View::Clipped, "clipped", true, true, true, paintResult, markClipped},
    {View::Pinned, "pinned", true, true, true, paintResult},
};

} // namespace

const ViewKind &kindOf(View view)
{
    const ViewKind &kind = kKinds[size_t(view)];
    assert(kind.view == view);
    return kind;
}

} // namespace buttonhole

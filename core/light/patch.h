#pragma once

#include "light/source.h"
#include "raster/mask_plane.h"

#include <array>

namespace buttonhole
{

/// What shows in place of a part of the photo, worked out once and kept: light as 16-bit square
/// roots, 65535 = 1, in the photo's space. Immutable; its planes are packed as those of masks are.
struct Patch {
    MaskPlane where;                ///< how much of it shows, 0..65535; of the photo's size
    std::array<MaskPlane, 3> roots; ///< red, green, blue; of any value where nothing shows
    uint64_t content = newContent();

    template <class F>
    void visitPlanes(const F &visit) const
    {
        visit(where);
        for (const MaskPlane &plane : roots)
            visit(plane);
    }
};

/// @param where not 0: that pixel of `light` shows; row by row over its area
std::shared_ptr<const Patch> makePatch(const Rect &photo, const LightTile &light,
                                       const std::vector<uint8_t> &where);

/// A source with a patch laid over it, by its strength 0..1. Coarser levels are means of what level
/// 0 shows.
SourceRef patched(SourceRef in, std::shared_ptr<const Patch> patch, float strength = 1);

} // namespace buttonhole

#pragma once

#include "base/rect.h"
#include "base/result.h"
#include "geometry/warp.h"

#include <array>
#include <cstdint>

namespace buttonhole
{

inline constexpr int kMostPx = 1 << 20; ///< along a side: more than any photo that is read

/// What of the photo leaves, and which way up: plain data of a take. It is levelled first; then the
/// crop is taken, mirrored and turned, pixel by pixel.
struct Geometry {
    static constexpr int kMostDelivered = 30000; ///< px; formats have limits of their own
    Rect crop; ///< px of the levelled photo; empty: all, or the largest that is filled
    bool isMirrored = false; ///< left and right change places
    int quarterTurns = 0;    ///< clockwise, 0..3
    Straightening straightening = {};
    int deliverWidth = 0; ///< px that the picture is resized to when it leaves; 0: its own size
    int deliverHeight = 0;

    bool isPlain() const { return *this == Geometry(); }
    friend bool operator==(const Geometry &, const Geometry &) = default;
};

/// Errors: InvalidArgument, by the member's name.
Result<void> check(const Geometry &geometry);

/// A place on the picture, px; pixel centres at +0.5.
struct PicturePoint {
    double x = 0;
    double y = 0;
};

/// The two spaces of one photo and their way into each other, at every pyramid level. Picture space
/// is the whole levelled photo's pixels, mirrored and turned; the picture is a rectangle in it,
/// which need not begin at zero. So a crop moves no pixel, and levels halve on the same grid in
/// both spaces.
class PictureMap
{
public:
    PictureMap() = default;
    /// A crop is cut to the photo; one that lies beside it is none.
    /// @param distortion of the lens, to be taken out
    PictureMap(const Geometry &geometry, int photoWidth, int photoHeight,
               const Radial &distortion = {});

    /// The picture is the photo.
    bool isPlain() const { return m_isPlain; }
    /// Pixels are the photo's own, in other places: nothing is levelled.
    bool isExact() const { return m_warp.isNone(); }
    const Warp &warp() const { return m_warp; }
    /// Equal for equal maps of the same photo.
    uint64_t content() const;

    /// The whole picture. Its width and height at level 0 are those that are exported.
    PictureRect rect(int level = 0) const;
    /// The crop: that part of the levelled photo.
    Rect cropRect(int level = 0) const { return atLevel(m_crop, level); }

    // Rectangles of a level; what lies outside the picture is mapped just so. Where the map is not
    // exact, they hold all that hangs on the other, and the photo's are cut to it.
    PictureRect toPicture(const Rect &photo, int level = 0) const;
    Rect toPhoto(const PictureRect &picture, int level = 0) const;
    // The same of the levelled photo: always exact.
    PictureRect fromLevelled(const Rect &levelled, int level = 0) const;
    Rect toLevelled(const PictureRect &picture, int level = 0) const;
    /// Of an exact map: the picture's pixel that is the photo's, as its left top corner.
    std::array<int, 2> pixelAt(int x, int y, int level = 0) const;
    /// What that changes by from one pixel of a photo's row to the next, and from row to row.
    std::array<int, 2> stepAlongRow() const;

    // Places, px of level 0.
    PicturePoint toPicture(double photoX, double photoY) const;
    std::array<double, 2> toPhoto(const PicturePoint &picture) const;

    friend bool operator==(const PictureMap &, const PictureMap &) = default;

private:
    /// Mirrored on the axes that are: the way there and the way back.
    Rect flipped(const Rect &levelled, int level) const;
    bool isUpright() const { return !m_swaps && !m_flipsX && !m_flipsY; }

    Warp m_warp;
    Rect m_photo;
    Rect m_crop;
    // The photo's axes are turned round about these, which every level halves evenly.
    int m_width = 0;
    int m_height = 0;
    bool m_flipsX = false; ///< of the photo, before axes are swapped
    bool m_flipsY = false;
    bool m_swaps = false;
    bool m_isPlain = true;
};

} // namespace buttonhole

#pragma once

namespace buttonhole
{

/// A place on the photo, px; pixel centres at +0.5.
struct PhotoPoint {
    float x = 0;
    float y = 0;
    friend bool operator==(const PhotoPoint &, const PhotoPoint &) = default;
};

} // namespace buttonhole

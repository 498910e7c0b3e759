#pragma once

#include "base/photo_point.h"
#include "mask/step.h"

#include <array>

namespace buttonhole
{

/// A colour in OKLab, as stored in steps.
struct LabColour {
    float L = 0;
    float a = 0;
    float b = 0;
    friend bool operator==(const LabColour &, const LabColour &) = default;
};

/// A soft range: 1 from least to most, fading to 0 over `soft` beyond either end.
struct SoftRange {
    float least = 0;
    float most = 1;
    float soft = 0;
    float at(float value) const;
    friend bool operator==(const SoftRange &, const SoftRange &) = default;
};

/// 0 below 0, 1 above 1, smooth between: 3 t^2 - 2 t^3.
inline float smoothStep(float t)
{
    t = std::clamp(t, 0.0F, 1.0F);
    return t * t * (3 - 2 * t);
}

/// What is at least this much covered joins its neighbour.
inline constexpr uint16_t kJoins = 65535 / 4;

/// A step that goes by each pixel's own colour, anywhere or only where that joins given places.
class PixelStep : public StepShape
{
public:
    /// Where the coverage must be connected to; empty: anywhere.
    const std::vector<PhotoPoint> &places() const { return m_places; }
    bool isConnected() const { return !m_places.empty(); }
    Holds holds() const override { return isConnected() ? Holds::Placed : Holds::Anywhere; }

    Effect coverage(const PhotoLevels &levels, int level, const Rect &area, uint16_t *lo,
                    uint16_t *hi) const final;
    bool needsLevels() const override { return isConnected(); }

protected:
    explicit PixelStep(std::vector<PhotoPoint> places) : m_places(std::move(places)) {}

    /// @param L,a,b n values of OKLab; @param out 0..1
    virtual void coverageRow(const float *L, const float *a, const float *b, int n,
                             float *out) const = 0;
    /// Marks with 255 what is connected (8 neighbours) to the places by pixels covered by kJoins
    /// or more, all else with 0. @param inside of the level's size
    virtual void markJoined(const PhotoLevels &levels, int level, Image<uint8_t> &inside) const;

private:
    struct Joined;
    std::shared_ptr<const Joined> findJoined(const PhotoLevels &levels) const;
    void plainCoverage(const PhotoLevels &levels, int level, const Rect &area, uint16_t *out) const;

    std::vector<PhotoPoint> m_places;
};

std::vector<PhotoPoint> placedBy(const FrameScale &scale, std::vector<PhotoPoint> places);

/// The mean colour of the side x side pixels round a place (side odd; clipped to the photo).
LabColour sampleColour(const PhotoLevels &levels, const PhotoPoint &at, int side);

/// The spread of colours in a part of the photo, OKLCh: percentiles, so that a few strays do not
/// count. Hue is relative to the chroma-weighted mean.
struct ColourSpread {
    float hueDeg = 0;
    float hueBelowDeg = 0; ///< 5th percentile is that far below the mean hue
    float hueAboveDeg = 0;
    float leastChroma = 0;
    float mostChroma = 0;
    float leastLightness = 0;
    float mostLightness = 0;
};
/// @param area level-0 px; large ones are read at a smaller level
ColourSpread measureSpread(const PhotoLevels &levels, const Rect &area);
/// What a click on the photo means: of the 7 x 7 px round it, those that look like the one clicked.
/// A thread is thinner than that.
ColourSpread spreadAt(const PhotoLevels &levels, const PhotoPoint &at);

} // namespace buttonhole

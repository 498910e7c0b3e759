#pragma once

#include "colour/pixel_rows.h"
#include "lettering/lettering.h"
#include "light/signature.h"

#include <optional>

namespace buttonhole
{

struct MountPixel;

/// A signature at its place. Lengths are px of the picture as it is delivered, places those of all
/// that leaves.
class Stamp
{
public:
    /// @param left,top,width,height the picture, in all that leaves
    Stamp(const Signature &signature, std::shared_ptr<const Drawing> drawing, int left, int top,
          int width, int height, const OutputColour &output);

    int x0() const { return m_x0; } ///< all it covers
    int y0() const { return m_y0; }
    int x1() const { return m_x1; }
    int y1() const { return m_y1; }
    /// Its ink waits for setGround().
    bool goesByGround() const;
    /// @param lightness OKLab L of what is under it
    void setGround(float lightness);
    /// Draws it as it is laid over at that step, and keeps that for a while. 1: as it leaves.
    /// Errors: those of Drawing::draw().
    Result<void> drawAt(double step) const;
    // For who must not wait: what is laid over is from then on what was drawn before, stretched;
    // nothing while nothing was.
    /// As it is at that step, where that is drawn already or quick to draw. Returns whether it is.
    bool showAt(double step);
    /// As another of the same words showed it.
    void showAs(const Stamp &before);
    /// Lays it over a row of pixels, as Mount::row() counts them.
    void over(double x, double y, double step, int n, MountPixel *row) const;

private:
    struct Drawn;
    Result<std::shared_ptr<const Drawn>> drawnAt(double step) const;
    uint64_t contentAt(double step) const;
    bool hasOwnColours() const;

    SignaturePlace m_place;
    uint64_t m_words;
    std::shared_ptr<const Drawing> m_drawing;
    OutputColour m_output;
    bool m_waits = true; ///< for it to be drawn
    std::shared_ptr<const Drawn> m_shown;
    double m_scale = 1; ///< px for a unit of the drawing
    int m_x0 = 0;
    int m_y0 = 0;
    int m_x1 = 0;
    int m_y1 = 0;
    float m_lightness;
    float m_ink[3] = {};
};

/// Codes 0..1 of an OKLCh colour.
void encodeColour(const OutputColour &output, float L, float chroma, float hueDeg, float *codes);

} // namespace buttonhole

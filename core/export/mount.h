#pragma once

#include "colour/pixel_rows.h"
#include "document/take.h"
#include "export/stamp.h"
#include "light/frame.h"

namespace buttonhole
{

/// What lies over one pixel of what leaves, codes 0..1 of the output: it becomes
/// `keep` * picture + `add`, `alpha` of it covered (colours are multiplied by alpha already).
struct MountPixel {
    float keep = 1;
    float add[3] = {0, 0, 0};
    float alpha = 1;
};

/// The frame of a take round its picture, drawn by distances from the picture's edge: at any scale,
/// edges one pixel soft; and its signature. Lengths are in px of the picture.
class Mount
{
public:
    /// @param width,height px of the picture as it is delivered
    Mount(const Take &take, int width, int height, const OutputColour &output);

    /// Nothing lies round or over the picture.
    bool isPlain() const { return m_isPlain && !m_signature; }
    /// Null: there is none.
    const Signature *signature() const { return m_signature.get(); }
    /// Without this a signature is left out. Errors: those of drawingOf().
    Result<void> sign();
    /// What was signed.
    const std::optional<Stamp> &stamp() const { return m_stamp; }
    std::optional<Stamp> &stamp() { return m_stamp; }
    /// The picture under the signature, px of the picture; empty: it lies on the frame.
    PictureRect signedPart() const;
    /// The ink goes by what is under it. @param lightness OKLab L of the picture there
    void setGround(float lightness);
    /// Something of it lets through what is behind.
    bool hasAlpha() const { return m_hasAlpha; }
    int width() const { return m_width + m_left + m_right; } ///< of all that leaves
    int height() const { return m_height + m_top + m_bottom; }
    int left() const { return m_left; } ///< px that the picture begins inside of it
    int top() const { return m_top; }
    int right() const { return m_right; }
    int bottom() const { return m_bottom; }

    /// A row of it.
    /// @param x,y  px of the first pixel's left upper corner, of all that leaves
    /// @param step px from one pixel to the next
    void row(double x, double y, double step, int n, MountPixel *out) const;
    /// Pixels of a row that are the picture's alone: from first to before the second; none: equal.
    std::pair<double, double> plainPart(double y, double step) const;
    /// The signature may touch the row. Rows that have a plain part and it does not are all alike.
    bool signsRow(double y, double step) const;

private:
    double distance(double x, double y) const; ///< px outside of the opening
    MountPixel pixel(double x, double y, double step) const;
    /// How many pixels along the row are the same as this one, itself counted.
    int alike(double x, double y, double step) const;

    Frame m_frame;
    std::shared_ptr<const Signature> m_signature;
    std::optional<Stamp> m_stamp;
    OutputColour m_output;
    int m_width;
    int m_height;
    int m_left = 0;
    int m_top = 0;
    int m_right = 0;
    int m_bottom = 0;
    double m_x0 = 0; ///< of the opening, px of all that leaves
    double m_y0 = 0;
    double m_x1 = 0;
    double m_y1 = 0;
    double m_radius = 0;
    double m_edge = 1; ///< px: the picture's shorter edge
    float m_paint[3] = {1, 1, 1};
    float m_line[3] = {0, 0, 0};
    bool m_isPlain = true;
    bool m_hasAlpha = false;
    bool m_hasFrame = false;
};

} // namespace buttonhole

#pragma once

#include <string_view>

namespace buttonhole
{

/// What of a take is shown. Result is what exports write; the others are for looking. Each is a
/// file of views/, and a row of the table in view.cpp.
enum class View {
    Result,
    Original,
    Mask,      ///< coverage as grey, white = stays in colour
    Tinted,    ///< the photo with the mask woven over it in `tintHueDeg`
    CutOut,    ///< only what stays in colour, on a checkerboard
    ColourMap, ///< where there is colour to bring back: chroma as heat, neutral dark
    Clipped,   ///< Result with greys that end black or white marked in blue and red
    Pinned,    ///< Result of RenderOptions::pinned
};

class Rows;
struct RowJob;
struct RowBuffer;

struct ViewKind {
    View view;
    std::string_view id;
    bool goesByMask;  ///< needs the mask
    bool showsColour; ///< as keeps make it: looks, and spill taken out
    bool showsResult; ///< grey, local tones and finish
    void (*paint)(const Rows &rows, const RowJob &job, RowBuffer &out);
    void (*mark)(const Rows &rows, const RowJob &job, RowBuffer &out) = nullptr; ///< after all else
};

const ViewKind &kindOf(View view);

// The views, a file each in views/.
void paintResult(const Rows &rows, const RowJob &job, RowBuffer &out);
void paintOriginal(const Rows &rows, const RowJob &job, RowBuffer &out);
void paintMask(const Rows &rows, const RowJob &job, RowBuffer &out);
void paintTinted(const Rows &rows, const RowJob &job, RowBuffer &out);
void paintCutOut(const Rows &rows, const RowJob &job, RowBuffer &out);
void paintColourMap(const Rows &rows, const RowJob &job, RowBuffer &out);
void markClipped(const Rows &rows, const RowJob &job, RowBuffer &out);

} // namespace buttonhole

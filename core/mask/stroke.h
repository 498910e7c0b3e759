#pragma once

#include "base/param.h"
#include "raster/mask_plane.h"
#include "segment/edge_hold.h"

#include <deque>
#include <optional>
#include <string_view>

namespace buttonhole
{

struct DabRow;

/// What a tablet's pressure changes while painting.
enum class PressureSteers { Nothing, Size, Flow, Softness };

/// The brush's tip.
struct Tip {
    float sizePx = 200.0F; ///< diameter, 1 .. 3000 px of the photo
    float softness = 0.2F; ///< 0 hard (edge of one pixel) .. 1 falls off from the centre
    float flow = 0.9F;     ///< 0.01 .. 1, share laid down by each dab
    float opacity = 1.0F;  ///< 0.01 .. 1, the most a stroke can reach
    PressureSteers pressure = PressureSteers::Size;
    float edgeHold = 0; ///< 0: over edges; up to 1: strictly only what belongs with the middle
    friend bool operator==(const Tip &, const Tip &) = default;
};

inline constexpr float kMinTipPx = 1.0F;
inline constexpr float kMaxTipPx = 3000.0F;
std::span<const Param<Tip>> tipParams();

/// One sample of the pointer, in px of the photo (pixel centres at +0.5).
struct StrokePoint {
    float x = 0;
    float y = 0;
    float pressure = 1; ///< 0..1; 1 for a mouse
    friend bool operator==(const StrokePoint &, const StrokePoint &) = default;
};

/// Positions are kept to 1/16 px and pressure to 1/256, so that a stroke written as text and read
/// again paints the same pixels.
StrokePoint quantised(StrokePoint point);

/// One movement of the brush, or a piece of a long one.
struct Stroke {
    Tip tip;
    bool takesBack = false; ///< the opposite of its step's sign
    bool continues = false; ///< goes on from the stroke before it: same build-up, no new start
    float leadPx = 0;       ///< for `continues`: distance to the first dab
    bool isCut = false;     ///< another piece went on from its end: no last dab there
    std::vector<StrokePoint> points;
    friend bool operator==(const Stroke &, const Stroke &) = default;
};

/// What a brush step holds: limits that the mask so far is brought between.
/// Adding raises both to at least the stroke's coverage, taking back lowers both to at most its
/// complement; result = clamp(mask so far, lo, hi). Painting twice at 50 % opacity therefore leaves
/// 50 %, soft edges keep their softness where strokes overlap, and strokes of both signs in any
/// order fold into just these two planes.
struct BrushPlanes {
    MaskPlane lo; ///< starts at 0
    MaskPlane hi; ///< starts at 65535
    BrushPlanes() = default;
    BrushPlanes(int width, int height) : lo(width, height, 0), hi(width, height, 65535) {}
};

/// Paints a stroke into planes as its points come in. Painting depends on earlier points only, so
/// what is on the canvas while painting stays; a tip that holds to edges adds a little behind it,
/// once it has seen more.
class StrokePainter
{
public:
    /// Starts a stroke; `stroke.points` must be empty and are collected in stroke().
    /// @param levels the photo, for tips that hold to its edges; without it they do not. Must
    ///               outlive the painter.
    StrokePainter(BrushPlanes &planes, Stroke stroke, const PhotoLevels *levels = nullptr);

    /// Paints up to `point` and returns the pixels touched (may be empty).
    /// The path is a cubic Hermite curve through the points, tangents taken from the chords before;
    /// dabs stand every 5 % of the tip's size along it: hard rims then scallop under 0.3 px at 400.
    Rect addPoint(StrokePoint point);
    /// The piece painted so far ends; painting goes on in a new one that continues it.
    /// @return the finished piece
    Stroke cut();
    /// Ends the stroke: a last dab where the pointer is, so that the mask reaches it.
    Rect finish();

    const Stroke &stroke() const { return m_stroke; }

private:
    struct Dab {
        float x = 0;
        float y = 0;
        float radius = 0;
        float softness = 0;
        float flow = 0;
        std::shared_ptr<const HeldTip> held; ///< null: all of it
        Rect bounds() const;
    };
    float spacing() const;
    void walk(StrokePoint from, StrokePoint to, float m0x, float m0y, float m1x, float m1y);
    void addDab(float x, float y, float pressure);
    std::shared_ptr<const HeldTip> heldAt(float x, float y, float radius);
    void settleOldest();
    Rect paintDabs();
    void paintTile(int tx, int ty, const Rect &area);

    void layRow(const DabRow &row, const HeldTip *held, int x, int y, uint16_t *build, int n) const;

    BrushPlanes &m_planes;
    Stroke m_stroke;
    std::optional<HeldStroke> m_heldStroke;   ///< where edges are held to
    std::shared_ptr<const HeldTip> m_held;    ///< of a dab not far back
    std::deque<std::vector<Dab>> m_unsettled; ///< of each look that waits for those after it
    MaskPlane m_build;                        ///< this stroke's coverage before opacity
    std::vector<Dab> m_dabs;
    float m_untilNext = 0;
    float m_tangentX = 0;
    float m_tangentY = 0;
    bool m_hasTangent = false;
};

/// Paints a list of finished strokes; `continues` links pieces.
void replayStrokes(const std::vector<std::shared_ptr<const Stroke>> &strokes, BrushPlanes &planes,
                   const PhotoLevels *levels = nullptr);

std::string_view toWord(PressureSteers steers);

} // namespace buttonhole

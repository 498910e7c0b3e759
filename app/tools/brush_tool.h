#pragma once

#include "mask/brush_step.h"
#include "tools/tool.h"

namespace buttonhole::app
{

/// Paints the selected keep's mask: a stroke goes on in the keep's last brush step of the chosen
/// sign, or begins a new step. Strokes longer than about two seconds are cut in pieces, each with
/// an undo of its own.
class BrushTool final : public Tool
{
    Q_OBJECT
public:
    using Tool::Tool;
    std::string kind() const override { return "brush"; }
    QString help() const override;
    QString firstHint() const override { return help(); }
    bool hasTip() const override { return true; }

    const Tip &tip() const { return m_tip; }
    void setTip(const Tip &tip);
    /// Switches holding to edges; how strictly is remembered.
    void holdToEdges(bool holds);

    /// 0 follows the pointer; towards 1 the line lags and comes out smoother.
    float steadiness() const { return m_steadiness; }
    void setSteadiness(float steadiness) { m_steadiness = std::clamp(steadiness, 0.0F, 1.0F); }

    void press(const PointerEvent &event) override;
    void move(const PointerEvent &event) override;
    void release() override;
    /// Esc: the stroke since the last piece is dropped.
    void drop() override;
    bool isBusy() const override { return m_painter != nullptr; }
    /// A stroke that marks places changes nothing yet: it is drawn itself.
    void paintMarks(QPainter &painter, const ViewTransform &view) const override;
    /// Forgets where the last stroke ended (another photo).
    void reset() override;

    static constexpr int64_t kPieceMs = 2000;

Q_SIGNALS:
    void tipChanged();

private:
    void showLive(const Rect &dirty);
    void commit(Stroke piece);
    void findOrStartStep(bool opposite);
    void forgetStroke();

    Tip m_tip;
    float m_strictness = 0.5F;
    float m_steadiness = 0;
    std::vector<StrokePoint> m_drawnSoFar; ///< since the press
    StrokePoint m_hand;                    ///< where the pointer is
    StrokePoint m_drawn;                   ///< where the line is

    std::unique_ptr<StrokePainter> m_painter;
    BrushPlanes m_planes;
    BrushStep::Strokes m_strokes; ///< finished ones of the step painted in
    Take m_base;                  ///< with the step in place
    uint64_t m_lineId = 0;
    uint64_t m_stepId = 0;
    bool m_opposite = false;
    bool m_startsStep = false;
    Rect m_touched; ///< since the last piece
    int64_t m_pieceStart = 0;
    std::optional<StrokePoint> m_lastPoint;
};

} // namespace buttonhole::app

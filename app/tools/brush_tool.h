#pragma once

#include "commands/session.h"
#include "mask/brush_step.h"

#include <QObject>

namespace buttonhole::app
{

/// The pointer as tools get it, in px of the photo. Plain, so that tests can play it.
struct PointerEvent {
    StrokePoint point;
    bool opposite = false;      ///< Ctrl is held: add and subtract swap for this stroke
    bool fromLastPoint = false; ///< Shift is held: a straight stroke from the last point
    int64_t timeMs = 0;
};

/// Paints the selected keep's mask: a stroke goes on in the keep's last brush step of the chosen
/// sign, or begins a new step. Strokes longer than about two seconds are cut in pieces, each with
/// an undo of its own.
class BrushTool : public QObject
{
    Q_OBJECT
public:
    explicit BrushTool(Session &session, QObject *parent = nullptr)
        : QObject(parent), m_session(session)
    {
    }

    const Tip &tip() const { return m_tip; }
    void setTip(const Tip &tip);
    Sign sign() const { return m_sign; }
    void setSign(Sign sign);

    void press(const PointerEvent &event);
    void move(const PointerEvent &event);
    void release();
    /// Esc: the stroke since the last piece is dropped.
    void drop();
    bool isPainting() const { return m_painter != nullptr; }
    /// Forgets where the last stroke ended (another photo).
    void reset();

    static constexpr int64_t kPieceMs = 2000;

Q_SIGNALS:
    void tipChanged();
    void signChanged();

private:
    void showLive(const Rect &dirty);
    void commit(Stroke piece);
    void findOrStartStep(bool opposite);

    Session &m_session;
    Tip m_tip;
    Sign m_sign = Sign::Add;

    std::unique_ptr<StrokePainter> m_painter;
    BrushPlanes m_planes;
    BrushStep::Strokes m_strokes; ///< finished ones of the step painted in
    Take m_base;                  ///< with the step in place
    uint64_t m_keepId = 0;
    uint64_t m_stepId = 0;
    bool m_opposite = false;
    bool m_startsStep = false;
    Rect m_touched; ///< since the last piece
    int64_t m_pieceStart = 0;
    std::optional<StrokePoint> m_lastPoint;
};

} // namespace buttonhole::app

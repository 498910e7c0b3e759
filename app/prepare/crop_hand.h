#pragma once

#include "commands/session.h"
#include "view/hand.h"

namespace buttonhole::app
{

/// Crops on the canvas: the whole photo is seen, handles move the sides, a drag inside moves the
/// crop, one outside draws another. Sizes are those of the picture, whichever way it is turned.
class CropHand : public Hand
{
    Q_OBJECT
public:
    enum class Guides { None, Thirds, Diagonals, Golden, Centre };

    CropHand(Session &session, QObject *parent);

    void setActive(bool active);
    bool isActive() const override { return m_isActive && m_session.hasPhoto(); }
    bool showsWhole() const override { return isActive(); }

    /// Width to height; 0: any. The crop is brought to it, as large as fits where it is.
    void setRatio(double ratio);
    double ratio() const { return m_ratio; }
    void turnRatio();
    /// Levelled, a photo does not fill all of its frame: the crop may reach beyond.
    void setAllowsCorners(bool allows);
    void setGuides(Guides guides);
    Guides guides() const { return m_guides; }
    /// The crop as the picture counts it; all of it where there is none.
    PictureRect crop() const;
    /// Brings it to that size, its middle where it was; cut to the photo. @return what came of it
    PictureRect resize(int width, int height);
    void takeAll();
    /// Shows a crop of the photo without taking it, and what there was again.
    void preview(const Rect &photo);
    void endPreview();
    void choose(const Rect &photo);

    void press(const QPointF &at, const ViewTransform &view) override;
    void drag(const QPointF &at, const ViewTransform &view) override;
    void release() override;
    bool drop() override;
    bool key(const QKeyEvent &event) override;
    bool takesKey(const QKeyEvent &event) const override;
    Qt::CursorShape cursorAt(const QPointF &at, const ViewTransform &view) const override;
    void paint(QPainter &painter, const ViewTransform &view, const QColor &surround) const override;

Q_SIGNALS:
    void closeAsked(); ///< Return

private:
    /// Which sides a drag moves: -1 left or top, 1 right or bottom; none: all, or a new crop.
    struct Grip {
        int x = 0;
        int y = 0;
        bool isInside = false;
        bool isHandle() const { return x != 0 || y != 0; }
    };
    PictureMap wholeMap() const;
    PictureRect whole() const { return wholeMap().rect(); }
    Grip gripAt(const QPointF &at, const ViewTransform &view) const;
    PictureRect draggedTo(const PicturePoint &at) const;
    PictureRect withRatio(const PictureRect &free, const Grip &grip) const;
    Rect filled(const Rect &to, const Warp &warp) const;
    void set(const PictureRect &crop, bool isLive, const QString &text);
    void paintGuides(QPainter &painter, const QRectF &box) const;

    Session &m_session;
    bool m_isActive = false;
    bool m_isDragging = false;
    bool m_hasMoved = false;
    bool m_isPreviewing = false;
    bool m_allowsCorners = false;
    double m_ratio = 0;
    Guides m_guides = Guides::Thirds;
    Grip m_grip;
    PictureRect m_start;
    PicturePoint m_pressedAt;
};

} // namespace buttonhole::app

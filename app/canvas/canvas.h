#pragma once

#include "canvas/tile_store.h"
#include "commands/session.h"
#include "export/mount.h"
#include "grey/grey_drag.h"
#include "jobs/jobs.h"
#include "jobs/side_by_side.h"
#include "settings/settings.h"
#include "tools/toolbox.h"
#include "view/hand.h"
#include "view/view_transform.h"

#include <QElapsedTimer>
#include <QTimer>
#include <QWidget>

#include <optional>

namespace buttonhole::app
{

/// How the canvas is looked at.
struct Seen {
    View view = View::Result;
    bool split = false;      ///< original left of the line, the view right of it
    double splitAt = 0.5;    ///< of the picture's width
    bool sideBySide = false; ///< the view in the left half, the same part of the original right
    bool onlyKeep = false;   ///< mask views show the selected keep alone
    /// That counts in this view.
    bool showsOneKeep() const
    {
        return onlyKeep && (view == View::Mask || view == View::Tinted || view == View::CutOut);
    }
    friend bool operator==(const Seen &, const Seen &) = default;
};

/// The photograph. Shows at once what is rendered (coarser if need be), asks for the rest, takes
/// the pointer to the tool. Never waits for pixels.
class Canvas : public QWidget
{
    Q_OBJECT
public:
    Canvas(Session &session, Toolbox &toolbox, GreyDrag &grey, Jobs &jobs,
           QWidget *parent = nullptr);

    const Seen &seen() const { return m_seen; }
    /// What Split and the right pane show instead of the original; none: the original.
    /// @param name what it is called; @param ownName and the view
    void setPinned(const Pinned &pinned, const QString &name = {}, const QString &ownName = {});
    const Pinned &pinned() const { return m_pinned; }
    const QString &pinnedName() const { return m_pinnedName; }
    void setSeen(const Seen &seen);
    /// While held: the original instead of the seen.
    void showOriginal(bool shows);
    bool showsOriginal() const { return m_original; }
    bool showsStitch() const { return m_showsStitch; }
    void setShowsStitch(bool shows);
    /// A place on the stitched edge, the nearest to where the pointer was last, photo px.
    const std::optional<QPointF> &edge() const { return m_edge; }
    void setSurround(const QColor &colour);
    void setMemory(size_t tileBytes, size_t stageBytes)
    {
        m_tiles.setBudget(tileBytes, stageBytes);
    }
    void setOutput(std::shared_ptr<const OutputColour> output);
    const std::shared_ptr<const OutputColour> &output() const { return m_output; }
    /// Shown over the empty canvas or the photo, one sentence; empty: nothing.
    void setHint(const QString &hint);
    /// Another line of the ticket is selected: other marks and another pointer.
    void refreshLook() { updateCursorShape(), update(); }
    /// Shows what is prepared, before it goes grey.
    void setInColour(bool shows);
    /// Where the photo's sharpness acts is shown instead of what it does.
    void setShowsSharpness(bool shows);
    /// One more that may take the pointer.
    void addHand(Hand &hand);
    const QString &hint() const { return m_hint; }

    /// A quick small picture of the photo that is being opened: it is shown in place of everything
    /// until that photo is there, and takes no strokes. A null image ends it.
    void setGlance(const QImage &image, const QSize &photo);

    const ViewTransform &transform() const { return m_transform; }
    void fit();
    void zoomTo(double scale);
    void zoomBy(double factor);
    void restoreView(double scale, const QPointF &centre);
    /// All that is seen is rendered and exact.
    bool isSettled() const;
    /// Sharp pixels of the present take everywhere, whatever else is still to come.
    bool isSharp() const;
    /// There is a picture, be it coarse.
    bool showsPicture();

    QSize sizeHint() const override { return {732, 600}; }

Q_SIGNALS:
    void viewChanged();               ///< zoom or position
    void pointerMoved(QPointF photo); ///< photo px; outside the photo too
    void pointerLeft();
    void seenChanged();
    void failed(const buttonhole::Error &error); ///< a part of the picture could not be made
    void edgeFound();                            ///< edge() may be another
    void sharpened();                            ///< the last missing tile is there
    void hueMissed(); ///< a press on something neutral, with the Grey line selected

protected:
    bool event(QEvent *event) override;
    void paintEvent(QPaintEvent *event) override;
    void resizeEvent(QResizeEvent *event) override;
    void mousePressEvent(QMouseEvent *event) override;
    void mouseMoveEvent(QMouseEvent *event) override;
    void mouseReleaseEvent(QMouseEvent *event) override;
    void tabletEvent(QTabletEvent *event) override;
    void wheelEvent(QWheelEvent *event) override;
    void keyPressEvent(QKeyEvent *event) override;
    void keyReleaseEvent(QKeyEvent *event) override;
    void leaveEvent(QEvent *event) override;
    void focusOutEvent(QFocusEvent *event) override;

private:
    void onPhotoChanged();
    Hand *activeHand() const;
    /// What of the photo is shown: the picture, or all of it while a hand wants that.
    PictureMap shownPicture() const;
    void followPicture();
    /// How far right of the view its like lies in Side by side, px; 0: there is one picture.
    double paneShift() const;
    QRectF viewPane() const
    {
        return {0.0, 0.0, paneShift() > 0 ? paneShift() : width(), double(height())};
    }
    void fitPanes();
    /// A place of either half as one of the view; a drag stays in the half where it began.
    QPointF onPane(const QPointF &position);
    bool m_isInRightPane = false;
    /// The take as the look has it: all keeps, or one.
    std::shared_ptr<const Take> shownTake() const;
    /// The take that is shown has become another.
    void showAnew();
    View shownView() const;
    bool isUnseen() const;
    bool showsOtherMask() const;
    static Keep withMaskOf(const MaskedLine &line);
    void onLineChanged();
    void onTakeChanged(const SeenChange &change);
    void viewMoved();
    /// What is seen follows a change of the whole picture within a frame: at its own level if that
    /// can be rendered in time, else at a coarser one; the exact tiles come when changes rest.
    void renderSeen();
    std::vector<View> shownViews() const;
    View splitView() const { return m_pinned ? View::Pinned : View::Original; }
    void paintHue(QPainter &painter) const;
    std::vector<TileKey> visibleTiles(View view, int level) const;
    void askForTiles();
    /// Part of the photo must be composed anew.
    void refresh(const QRect &part);
    void composeFrame(const QRegion &region);
    QImage pictureOf(const QRect &part);
    /// The tile to show for `key`: the finest that fits the take, else the finest of an older one.
    std::optional<TileKey> shownInstead(const TileKey &key);
    /// A tile's place on the canvas and the image that is drawn there.
    struct Piece {
        QRectF target; ///< logical px
        const QImage *image = nullptr;
        QRectF source;
        QRectF clip;
        bool isSmooth = true;
    };
    Piece pieceFor(const TileKey &key, const QRectF &clip);
    void addPieces(View view, const QRectF &clip, std::vector<Piece> &pieces);
    void paintSplitLine(QPainter &painter);
    void paintNames(QPainter &painter, double middle);
    bool showsTip() const;
    void paintHint(QPainter &painter);
    void paintGlance(QPainter &painter);
    QRectF tipRect() const;
    void updateTip(const QPointF &position, bool inside);
    void updateStitchSoon();
    void startStitch();
    /// Whose edge is stitched: the selected keep's, or the place that the selected step marks.
    std::optional<Keep> stitchedKeep() const;
    /// Takes out the stitches of a part where the edge has moved.
    void unpick(const QRect &part);
    void updateCursorShape();
    /// Picture space, or photo space.
    template <class Space>
    QRect toWidgetRect(const RectIn<Space> &r) const
    {
        return m_transform.boxOf(r).toAlignedRect().adjusted(-2, -2, 2, 2);
    }
    /// The tiles' own part of the picture, px of level 0.
    static PictureRect wholeTile(const TileKey &key);
    void startTiles();
    /// The frame and the room that it takes. Returns whether the picture lies elsewhere now.
    bool updateMount();
    /// Its signature, at once or when it has been drawn in the background.
    void signMount();
    /// As it is at this scale; until that has been drawn in the background, as it was before.
    void showSignature();
    void tellUndrawn(uint64_t words, const Error &error);
    /// What is under the signature, found in the background once changes rest.
    void findGround();
    /// Over a band of the frame that is composed. @param firstRow of the band, device px
    void paintMount(QImage &rows, int firstRow, const QRegion &stale) const;
    bool takesPointer() const { return m_session.hasPhoto() && !m_opens; }
    double splitX() const;
    bool isOnSplitLine(const QPointF &position) const;
    PointerEvent toPointerEvent(const QPointF &position, double pressure,
                                Qt::KeyboardModifiers modifiers) const;
    void pointerPressed(const QPointF &position, double pressure, Qt::KeyboardModifiers modifiers);
    void pointerDragged(const QPointF &position, double pressure, Qt::KeyboardModifiers modifiers);
    void pointerReleased();

    Session &m_session;
    Toolbox &m_toolbox;
    GreyDrag &m_grey;
    QList<Hand *> m_hands;
    Jobs &m_jobs;
    TileStore m_tiles;
    ViewTransform m_transform;
    std::optional<Mount> m_mount;  ///< empty before the first photo
    std::optional<float> m_ground; ///< lightness under the signature, as it was found last
    bool m_isDrawing = false;      ///< the signature at some scale, in the background
    uint64_t m_undrawnWords = 0;   ///< a signature that cannot be drawn: told already
    QTimer m_groundRest;
    std::stop_source m_groundJob;
    std::shared_ptr<const OutputColour> m_output;
    Seen m_seen;
    bool m_showsOther = false; ///< showsOtherMask(), as it was last
    Pinned m_pinned;
    QString m_pinnedName;
    QString m_ownName;
    bool m_original = false;
    bool m_isInColour = false;
    bool m_showsSharpness = false;
    bool m_showsStitch = true;
    QColor m_surround;
    QString m_hint;

    enum class Drag { None, Paint, Grey, Hand, Pan, Split } m_drag = Drag::None;
    QPointF m_dragFrom;
    QPointF m_pointer;
    bool m_pointerInside = false;
    bool m_spaceHeld = false;
    bool m_tabletInUse = false;
    QElapsedTimer m_clock;

    double m_nsPerPixel = 8; ///< what renderSeen() cost so far
    QTimer m_restTimer;      ///< runs while changes of the whole picture follow each other

    QImage m_glance; ///< null once the photo's own tiles are there
    ViewTransform m_glanceView;
    bool m_opens = false; ///< the glance stands for a photo that is not there yet

    QImage m_frame;       ///< the photo as seen, device px: what is drawn over it comes and goes
    QRegion m_frameStale; ///< logical px
    SideBySide m_painters;

    /// What a change of a keep's mask in some place changes in the picture; empty: all of it.
    Rect reached(const Rect &touched, const MaskedLine &line) const;
    /// Has what was painted as a draft rendered as it is.
    void settleDraft();
    Rect m_drafted; ///< px of the photo that show a draft of the mask

    QImage m_stitch;
    ViewTransform m_stitchView; ///< what m_stitch was drawn for
    std::optional<QPointF> m_edge;
    QTimer m_stitchTimer;
    bool m_stitchRunning = false;
    bool m_stitchWanted = false; ///< what it follows has changed since it was begun
};

} // namespace buttonhole::app

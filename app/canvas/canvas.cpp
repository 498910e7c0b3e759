#include "canvas/canvas.h"

#include "canvas/stitch.h"
#include "window/theme.h"

#include <QGuiApplication>
#include <QPainter>
#include <QPainterPath>
#include <QTabletEvent>
#include <QTimer>
#include <QWheelEvent>

#include <cmath>

namespace buttonhole::app
{

Canvas::Canvas(Session &session, BrushTool &tool, Jobs &jobs, QWidget *parent)
    : QWidget(parent), m_session(session), m_tool(tool), m_jobs(jobs),
      m_output(std::make_shared<const OutputColour>(Profile::srgb())),
      m_surround(surroundColour(Surround::Mid))
{
    setMouseTracking(true);
    setTabletTracking(true);
    setFocusPolicy(Qt::StrongFocus);
    setAttribute(Qt::WA_OpaquePaintEvent);
    setAccessibleName(tr("Canvas"));
    setMinimumSize(320, 240);
    m_clock.start();
    grabGesture(Qt::PinchGesture);
    connect(&m_session, &Session::photoChanged, this, &Canvas::onPhotoChanged);
    connect(&m_session, &Session::takeChanged, this, &Canvas::onTakeChanged);
    connect(&m_session, &Session::lineChanged, this, &Canvas::updateStitchSoon);
    connect(&m_tool, &BrushTool::tipChanged, this, QOverload<>::of(&Canvas::update));
    connect(&m_tiles, &TileStore::tileReady, this, [this](const TileKey &key) {
        const Rect r = m_tiles.rectOf(key);
        const int l = key.level;
        update(toWidgetRect({r.x0 << l, r.y0 << l, r.x1 << l, r.y1 << l}));
    });
}

void Canvas::onPhotoChanged()
{
    m_tiles.reset({m_session.levels(), m_session.take(), m_output, m_session.tintHueDeg()});
    m_transform.setPhoto(m_session.levels()->photo().width, m_session.levels()->photo().height);
    m_stitch = {};
    m_tool.reset();
    viewMoved();
}

void Canvas::setOutput(std::shared_ptr<const OutputColour> output)
{
    m_output = std::move(output);
    if (m_session.hasPhoto())
        m_tiles.reset({m_session.levels(), m_session.take(), m_output, m_session.tintHueDeg()});
    update();
}

void Canvas::onTakeChanged(const Rect &dirty)
{
    if (!m_session.hasPhoto())
        return;
    m_tiles.setTake(m_session.take(), dirty);
    if (!dirty.isEmpty() && !m_original) {
        const int level = m_transform.level(m_session.levels()->count());
        if (m_look.view != View::Original)
            m_tiles.renderNow(visibleTiles(m_look.view, level), dirty);
        update(toWidgetRect(dirty));
    } else {
        update();
    }
    updateStitchSoon();
}

void Canvas::setLook(const Look &look)
{
    if (m_look == look)
        return;
    m_look = look;
    update();
    Q_EMIT lookChanged();
}

void Canvas::showOriginal(bool shows)
{
    if (m_original == shows)
        return;
    m_original = shows;
    update();
    Q_EMIT lookChanged();
}

void Canvas::setShowsStitch(bool shows)
{
    m_showsStitch = shows;
    updateStitchSoon();
    update();
}

void Canvas::setSurround(const QColor &colour)
{
    m_surround = colour;
    update();
}

void Canvas::setHint(const QString &hint)
{
    if (m_hint == hint)
        return;
    m_hint = hint;
    update();
}

void Canvas::viewMoved()
{
    updateStitchSoon();
    update();
    Q_EMIT viewChanged();
}

void Canvas::fit()
{
    m_transform.fit();
    viewMoved();
}

void Canvas::zoomTo(double scale)
{
    const QPointF at = m_pointerInside ? m_pointer : QPointF(width() / 2.0, height() / 2.0);
    m_transform.zoomTo(scale, at);
    viewMoved();
}

void Canvas::zoomBy(double factor)
{
    zoomTo(m_transform.scale() * factor);
}

void Canvas::restoreView(double scale, const QPointF &centre)
{
    m_transform.restore(scale, centre);
    viewMoved();
}

void Canvas::resizeEvent(QResizeEvent *)
{
    m_transform.setCanvas(size(), devicePixelRatioF());
    viewMoved();
}

QRect Canvas::toWidgetRect(const Rect &photo) const
{
    const QRectF r(m_transform.toWidget({double(photo.x0), double(photo.y0)}),
                   m_transform.toWidget({double(photo.x1), double(photo.y1)}));
    return r.toAlignedRect().adjusted(-2, -2, 2, 2);
}

std::vector<View> Canvas::shownViews() const
{
    if (m_original)
        return {View::Original};
    if (m_look.split)
        return {m_look.view, View::Original};
    return {m_look.view};
}

std::vector<TileKey> Canvas::visibleTiles(View view, int level) const
{
    std::vector<TileKey> keys;
    const Rect area = m_transform.visible(level);
    if (area.isEmpty())
        return keys;
    for (int ty = area.y0 / kTileSize; ty <= (area.y1 - 1) / kTileSize; ++ty)
        for (int tx = area.x0 / kTileSize; tx <= (area.x1 - 1) / kTileSize; ++tx)
            keys.push_back({view, level, tx, ty});
    // From the pointer outwards.
    const QPointF at = m_pointerInside ? m_transform.toPhoto(m_pointer) : m_transform.centre();
    const double side = double(kTileSize) * (1 << level);
    const auto distance = [&](const TileKey &k) {
        return std::hypot((k.tx + 0.5) * side - at.x(), (k.ty + 0.5) * side - at.y());
    };
    std::sort(keys.begin(), keys.end(),
              [&](const TileKey &a, const TileKey &b) { return distance(a) < distance(b); });
    return keys;
}

void Canvas::askForTiles()
{
    const int count = m_session.levels()->count();
    const int level = m_transform.level(count);
    std::vector<TileKey> wanted;
    for (const View view : shownViews()) {
        // With nothing at all to show yet, the coarsest level first: a picture in a few ms.
        const TileKey coarsest{view, count - 1, 0, 0};
        if (!m_tiles.find(coarsest))
            wanted.push_back(coarsest);
        const auto tiles = visibleTiles(view, level);
        wanted.insert(wanted.end(), tiles.begin(), tiles.end());
    }
    for (const View view : shownViews())
        wanted.push_back({view, count - 1, 0, 0});
    m_tiles.want(wanted);
}

bool Canvas::isSettled() const
{
    if (!m_session.hasPhoto())
        return true;
    const int level = m_transform.level(m_session.levels()->count());
    for (const View view : shownViews())
        for (const TileKey &key : visibleTiles(view, level))
            if (!m_tiles.isFresh(key))
                return false;
    return !m_stitchRunning && !m_stitchWanted;
}

void Canvas::paintTile(QPainter &painter, const TileKey &key, int level)
{
    // The tile itself, or the part of the next coarser one that is there.
    const int side = kTileSize << level;
    const Rect photo =
        intersected(m_session.levels()->photo().rect(),
                    {key.tx * side, key.ty * side, (key.tx + 1) * side, (key.ty + 1) * side});
    const double ratio = devicePixelRatioF();
    const auto snapped = [&](const QPointF &p) { // shared edges: no seams between tiles
        return QPointF(std::round(p.x() * ratio) / ratio, std::round(p.y() * ratio) / ratio);
    };
    const QRectF target(snapped(m_transform.toWidget({double(photo.x0), double(photo.y0)})),
                        snapped(m_transform.toWidget({double(photo.x1), double(photo.y1)})));
    for (int up = 0; level + up < m_session.levels()->count(); ++up) {
        const TileKey at{key.view, level + up, key.tx >> up, key.ty >> up};
        const QImage *image = m_tiles.find(at);
        if (!image)
            continue;
        const double step = double(1 << at.level);
        const QRectF source(photo.x0 / step - at.tx * kTileSize,
                            photo.y0 / step - at.ty * kTileSize, (photo.x1 - photo.x0) / step,
                            (photo.y1 - photo.y0) / step);
        painter.setRenderHint(QPainter::SmoothPixmapTransform,
                              m_transform.scale() * step < 1.99 || up > 0);
        // At the photo's right and bottom border a reduced tile can reach past the last full pixel.
        painter.drawImage(target, *image, source.intersected(QRectF(image->rect())));
        return;
    }
    painter.fillRect(target, m_surround.darker(108));
}

void Canvas::paintView(QPainter &painter, View view, const QRectF &clip)
{
    const int level = m_transform.level(m_session.levels()->count());
    painter.save();
    painter.setClipRect(clip, Qt::IntersectClip);
    for (const TileKey &key : visibleTiles(view, level)) {
        const int side = kTileSize << level;
        if (toWidgetRect({key.tx * side, key.ty * side, (key.tx + 1) * side, (key.ty + 1) * side})
                .intersects(clip.toAlignedRect()))
            paintTile(painter, key, level);
    }
    painter.restore();
}

void Canvas::paintEvent(QPaintEvent *event)
{
    QPainter painter(this);
    painter.setClipRegion(event->region());
    painter.fillRect(event->rect(), m_surround);
    if (m_session.hasPhoto()) {
        askForTiles();
        const QRectF all = event->rect();
        if (m_look.split && !m_original) {
            const double x = splitX();
            paintView(painter, View::Original, all.intersected({0.0, 0.0, x, double(height())}));
            paintView(painter, m_look.view,
                      all.intersected({x, 0.0, width() - x, double(height())}));
        } else {
            paintView(painter, m_original ? View::Original : m_look.view, all);
        }
        const bool marksEdge = m_look.view == View::Result || m_look.view == View::Original ||
                               m_look.view == View::Tinted;
        if (m_showsStitch && !m_original && marksEdge && !m_stitch.isNull()) {
            // After a move the old stitches follow along until the new ones are there.
            const double k = m_transform.logicalScale() / m_stitchView.logicalScale();
            const QPointF origin = m_transform.toWidget(m_stitchView.toPhoto({0, 0}));
            if (std::abs(k - 1) < 1e-9)
                painter.drawImage(origin, m_stitch);
        }
        if (m_look.split && !m_original)
            paintSplitLine(painter);
        paintTip(painter);
    }
    paintHint(painter);
    if (hasFocus() && !m_session.hasPhoto())
        drawFocusStitch(painter, QRectF(rect()).adjusted(3, 3, -3, -3));
}

double Canvas::splitX() const
{
    return m_transform.toWidget({m_look.splitAt * m_session.levels()->photo().width, 0}).x();
}

bool Canvas::isOnSplitLine(const QPointF &position) const
{
    return m_look.split && !m_original && m_session.hasPhoto() &&
           std::abs(position.x() - splitX()) <= 6;
}

void Canvas::paintSplitLine(QPainter &painter)
{
    const double x = std::round(splitX()) + 0.5;
    painter.save();
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setPen(QPen(QColor(0, 0, 0, 150), 3));
    painter.drawLine(QPointF(x, 0), QPointF(x, height()));
    painter.setPen(QPen(QColor(255, 255, 255, 230), 1.2));
    painter.drawLine(QPointF(x, 0), QPointF(x, height()));
    // A grip the shape of a button with two holes.
    const QPointF grip(x, height() / 2.0);
    painter.setPen(QPen(QColor(0, 0, 0, 150), 1));
    painter.setBrush(QColor(0xF4, 0xF3, 0xEF));
    painter.drawEllipse(grip, 11, 11);
    painter.setBrush(QColor(0x55, 0x55, 0x55));
    painter.setPen(Qt::NoPen);
    painter.drawEllipse(grip - QPointF(3.4, 0), 1.7, 1.7);
    painter.drawEllipse(grip + QPointF(3.4, 0), 1.7, 1.7);
    const auto label = [&](const QString &text, double left) {
        const int w = painter.fontMetrics().horizontalAdvance(text) + 14;
        const QRectF box(left < x ? x - 8 - w : x + 8, 8, w, 20);
        painter.setPen(Qt::NoPen);
        painter.setBrush(QColor(0, 0, 0, 130));
        painter.drawRoundedRect(box, 4, 4);
        painter.setPen(QColor(255, 255, 255, 235));
        painter.drawText(box, Qt::AlignCenter, text);
    };
    label(tr("Original"), x - 1);
    label(tr("Now"), x + 1);
    painter.restore();
}

QRectF Canvas::tipRect() const
{
    const double r = std::max(1.5, m_tool.tip().sizePx / 2.0 * m_transform.logicalScale());
    return {m_pointer.x() - r, m_pointer.y() - r, 2 * r, 2 * r};
}

void Canvas::paintTip(QPainter &painter)
{
    if (!m_pointerInside || m_spaceHeld || m_drag == Drag::Pan || m_drag == Drag::Split ||
        m_original || isOnSplitLine(m_pointer))
        return;
    painter.save();
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setBrush(Qt::NoBrush);
    const QRectF tip = tipRect();
    painter.setPen(QPen(QColor(0, 0, 0, 150), 2.6));
    painter.drawEllipse(tip);
    painter.setPen(QPen(QColor(255, 255, 255, 235), 1.2));
    painter.drawEllipse(tip);
    const double inner = tip.width() / 2 * (1.0 - m_tool.tip().softness);
    if (m_tool.tip().softness > 0.02F && inner > 3) { // where the full strength ends
        painter.setPen(QPen(QColor(255, 255, 255, 110), 1, Qt::DotLine));
        painter.drawEllipse(tip.center(), inner, inner);
    }
    painter.restore();
}

void Canvas::paintHint(QPainter &painter)
{
    if (m_hint.isEmpty())
        return;
    painter.save();
    QFont font = bodyFont();
    font.setPixelSize(14);
    painter.setFont(font);
    painter.setRenderHint(QPainter::Antialiasing);
    const QRectF text = painter.boundingRect(QRectF(40, 0, width() - 80.0, height()),
                                             Qt::AlignCenter | Qt::TextWordWrap, m_hint);
    const double y = m_session.hasPhoto() ? height() - text.height() - 34 : text.top();
    const QRectF box(text.left() - 16, y - 9, text.width() + 32, text.height() + 18);
    painter.setPen(Qt::NoPen);
    painter.setBrush(QColor(0x26, 0x28, 0x2A, 225));
    painter.drawRoundedRect(box, 8, 8);
    painter.setPen(QColor(0xF1, 0xF1, 0xEF));
    painter.drawText(box.adjusted(16, 9, -16, -9), Qt::AlignCenter | Qt::TextWordWrap, m_hint);
    painter.restore();
}

void Canvas::updateStitchSoon()
{
    ++m_stitchTake;
    if (!m_session.hasPhoto() || !m_showsStitch || m_stitchWanted)
        return;
    m_stitchWanted = true;
    QTimer::singleShot(0, this, &Canvas::startStitch);
}

void Canvas::startStitch()
{
    if (m_stitchRunning) // it starts the next one when it is done
        return;
    m_stitchWanted = false;
    const Keep *keep = m_session.keep();
    if (!keep || !keep->on || !m_showsStitch) {
        m_stitch = {};
        update();
        return;
    }
    m_stitchRunning = true;
    const uint64_t number = m_stitchTake;
    m_jobs.start(
        {},
        [keep = *keep, view = m_transform, count = m_session.levels()->count(), size = size(),
         ratio = devicePixelRatioF()](const Run &) {
            return drawStitch(keep, view, count, size, ratio);
        },
        [this, view = m_transform, number, guard = QPointer<Canvas>(this)](const QImage &image) {
            if (!guard)
                return;
            m_stitchRunning = false;
            m_stitch = image;
            m_stitchView = view;
            m_stitchDrawn = number;
            update();
            if (m_stitchWanted || m_stitchTake != number)
                startStitch();
        });
}

} // namespace buttonhole::app

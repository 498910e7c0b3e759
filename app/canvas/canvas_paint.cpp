// What the canvas shows: the frame composed of tiles, and what is drawn over it.
#include "canvas/canvas.h"

#include "canvas/ring.h"
#include "style/theme.h"

#include <QPaintEvent>
#include <QPainter>

#include <cmath>

namespace buttonhole::app
{

std::optional<TileKey> Canvas::shownInstead(const TileKey &key)
{
    std::optional<TileKey> old;
    for (int up = 0; key.level + up < m_session.levels()->count(); ++up) {
        const TileKey at{key.view, key.level + up, key.tx >> up, key.ty >> up};
        if (m_tiles.isFresh(at))
            return at;
        if (!old && m_tiles.find(at))
            old = at;
    }
    return old;
}

Canvas::Piece Canvas::pieceFor(const TileKey &key, const QRectF &clip)
{
    const PictureRect picture = m_transform.picture().rect();
    const PictureRect part = intersected(picture, wholeTile(key));
    const double ratio = devicePixelRatioF();
    const auto snapped = [&](const QPointF &p) { // shared edges: no seams between tiles
        return QPointF(std::round(p.x() * ratio) / ratio, std::round(p.y() * ratio) / ratio);
    };
    Piece piece;
    piece.clip = clip;
    const QRectF target = m_transform.boxOf(part);
    piece.target = {snapped(target.topLeft()), snapped(target.bottomRight())};
    const auto at = shownInstead(key);
    if (!at) {
        if (m_glance.isNull() || !m_transform.picture().isPlain())
            return piece;
        const double x = double(m_glance.width()) / picture.width();
        const double y = double(m_glance.height()) / picture.height();
        piece.image = &m_glance;
        piece.source = {part.x0 * x, part.y0 * y, part.width() * x, part.height() * y};
        return piece;
    }
    piece.image = m_tiles.find(*at);
    const auto step = double(1 << at->level);
    const PictureRect whole = m_tiles.rectOf(*at);
    piece.source = {part.x0 / step - whole.x0, part.y0 / step - whole.y0, part.width() / step,
                    part.height() / step};
    // At the picture's right and bottom border a reduced tile can reach past the last full pixel.
    piece.source = piece.source.intersected(QRectF(piece.image->rect()));
    piece.isSmooth = m_transform.scale() * step < 1.99 || at->level > key.level;
    return piece;
}

void Canvas::addPieces(View view, const QRectF &clip, std::vector<Piece> &pieces)
{
    const int level = m_transform.level(m_session.levels()->count());
    for (const TileKey &key : visibleTiles(view, level)) {
        if (toWidgetRect(wholeTile(key)).intersects(clip.toAlignedRect()))
            pieces.push_back(pieceFor(key, clip));
    }
}

void Canvas::composeFrame(const QRegion &region)
{
    const double ratio = devicePixelRatioF();
    if (m_frame.size() != size() * ratio) {
        m_frame = QImage(size() * ratio, QImage::Format_RGB32);
        m_frameStale = rect();
    }
    const QRegion stale = m_frameStale & region;
    if (stale.isEmpty())
        return;
    m_frameStale -= stale;
    askForTiles();
    showSignature();
    std::vector<Piece> pieces;
    const QRectF all = stale.boundingRect();
    if (m_seen.split && !m_original) {
        const double x = splitX();
        addPieces(splitView(), all.intersected({0.0, 0.0, x, double(height())}), pieces);
        addPieces(shownView(), all.intersected({x, 0.0, width() - x, double(height())}), pieces);
    } else if (const double shift = paneShift(); shift > 0) {
        addPieces(m_original ? View::Original : shownView(), all.intersected(viewPane()), pieces);
        const size_t ofView = pieces.size();
        addPieces(splitView(), all.translated(-shift, 0).intersected(viewPane()), pieces);
        for (size_t i = ofView; i < pieces.size(); ++i) {
            pieces[i].target.translate(shift, 0);
            pieces[i].clip.translate(shift, 0);
        }
    } else {
        addPieces(m_original ? View::Original : shownView(), all, pieces);
    }
    // Smooth scaling is the dear part: bands side by side, each with a painter of its own. From 96
    // rows on Qt would cut a band up once more.
    constexpr int kBandRows = 64;
    const int top = std::clamp(int(std::floor(all.top() * ratio)), 0, m_frame.height());
    const int bottom = std::clamp(int(std::ceil(all.bottom() * ratio)), top, m_frame.height());
    uchar *bits = m_frame.bits();
    m_painters.run((bottom - top + kBandRows - 1) / kBandRows, [&](int band) {
        const int y0 = top + band * kBandRows;
        const int y1 = std::min(bottom, y0 + kBandRows);
        QImage rows(bits + ptrdiff_t(y0) * m_frame.bytesPerLine(), m_frame.width(), y1 - y0,
                    m_frame.bytesPerLine(), QImage::Format_RGB32);
        rows.setDevicePixelRatio(ratio);
        QPainter painter(&rows);
        painter.translate(0, -y0 / ratio);
        painter.setClipRegion(stale);
        painter.fillRect(all, m_surround);
        const QRegion fixed = painter.clipRegion();
        for (const Piece &piece : pieces) {
            painter.setClipRegion(fixed);
            painter.setClipRect(piece.clip, Qt::IntersectClip);
            painter.setRenderHint(QPainter::SmoothPixmapTransform, piece.isSmooth);
            if (piece.image)
                painter.drawImage(piece.target, *piece.image, piece.source);
            else
                painter.fillRect(piece.target, m_surround.darker(108));
        }
        painter.end();
        paintMount(rows, y0, stale);
    });
}

/// The frame and what lies over it, for one rectangle of the widget.
QImage Canvas::pictureOf(const QRect &part)
{
    const double ratio = devicePixelRatioF();
    const QRect pixels(QPoint(int(std::floor(part.x() * ratio)), int(std::floor(part.y() * ratio))),
                       QPoint(int(std::ceil((part.right() + 1) * ratio)) - 1,
                              int(std::ceil((part.bottom() + 1) * ratio)) - 1));
    QImage picture = m_frame.copy(pixels);
    picture.setDevicePixelRatio(ratio);
    QPainter painter(&picture);
    painter.translate(-QPointF(pixels.topLeft()) / ratio);
    if (paneShift() > 0) {
        painter.fillRect(QRectF(paneShift() - 1, 0, 2, height()), m_surround.darker(125));
        paintNames(painter, paneShift());
        painter.setClipRect(viewPane().adjusted(0, 0, -1, 0));
    }
    // Greys are judged without stitches over them.
    const Hand *hand = activeHand();
    const bool marksEdge = !m_grey.isActive() && !hand &&
                           (shownView() == View::Result || shownView() == View::Original ||
                            shownView() == View::Tinted);
    // After a move the old stitches follow along until the new ones are there.
    if (m_showsStitch && !m_original && marksEdge && !m_stitch.isNull() &&
        std::abs(m_transform.logicalScale() / m_stitchView.logicalScale() - 1) < 1e-9)
        painter.drawImage(m_transform.placeOf(m_stitchView.toPicture({0, 0})), m_stitch);
    if (m_seen.split && !m_original)
        paintSplitLine(painter);
    if (showsTip() && m_grey.isActive())
        paintHue(painter);
    if (hand && !m_original) {
        hand->paint(painter, m_transform, m_surround);
    } else if (!m_grey.isActive() && !m_original) {
        painter.setRenderHint(QPainter::Antialiasing);
        m_toolbox.current().paintMarks(painter, m_transform);
    }
    painter.end();
    if (showsTip() && !hand && !m_grey.isActive() && m_toolbox.current().hasTip()) {
        const QRectF tip = tipRect();
        const double inner = tip.width() / 2 * (1.0 - double(m_toolbox.brush().tip().softness));
        const bool hasInner = m_toolbox.brush().tip().softness > 0.02F && inner > 3;
        const auto ringAt = [&](const QPointF &at) {
            drawRing(picture, {at * ratio - QPointF(pixels.topLeft()), tip.width() / 2 * ratio,
                               hasInner ? inner * ratio : 0.0, 1.2 * ratio});
        };
        ringAt(tip.center());
        if (paneShift() > 0) // and the same place of the original
            ringAt(tip.center() + QPointF(paneShift(), 0));
    }
    return picture;
}

void Canvas::paintEvent(QPaintEvent *event)
{
    QPainter painter(this);
    painter.setClipRegion(event->region());
    if (m_opens) {
        paintGlance(painter);
    } else if (m_session.hasPhoto()) {
        composeFrame(event->region());
        for (const QRect &part : event->region())
            painter.drawImage(part.topLeft(), pictureOf(part));
    } else {
        painter.fillRect(event->rect(), m_surround);
    }
    paintHint(painter);
    if (hasFocus() && !m_session.hasPhoto())
        drawFocusStitch(painter, QRectF(rect()).adjusted(3, 3, -3, -3));
}

void Canvas::paintGlance(QPainter &painter)
{
    painter.fillRect(rect(), m_surround);
    painter.setRenderHint(QPainter::SmoothPixmapTransform);
    painter.drawImage(m_glanceView.boxOf(m_glanceView.picture().rect()), m_glance);
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
    painter.restore();
    paintNames(painter, x);
}

/// Of what lies on both sides of a line, beside it.
void Canvas::paintNames(QPainter &painter, double middle)
{
    painter.save();
    painter.setRenderHint(QPainter::Antialiasing);
    const auto label = [&](const QString &name, bool isLeft) {
        constexpr int kMostWidth = 220;
        const QString text = painter.fontMetrics().elidedText(name, Qt::ElideRight, kMostWidth);
        const int w = painter.fontMetrics().horizontalAdvance(text) + 14;
        const QRectF box(isLeft ? middle - 8 - w : middle + 8, 8, w, 20);
        painter.setPen(Qt::NoPen);
        painter.setBrush(QColor(0, 0, 0, 130));
        painter.drawRoundedRect(box, 4, 4);
        painter.setPen(QColor(255, 255, 255, 235));
        painter.drawText(box, Qt::AlignCenter, text);
    };
    const QString own = m_ownName.isEmpty() ? tr("Now") : m_ownName;
    const QString other = m_pinned ? m_pinnedName : tr("Original");
    label(m_seen.split ? other : own, true); // side by side, the view is on the left
    label(m_seen.split ? own : other, false);
    painter.restore();
}

/// Beside the pointer, the hue it would take hold of or holds: a bobbin of that colour.
void Canvas::paintHue(QPainter &painter) const
{
    const QColor hue = m_grey.hueAt(m_transform.toPhoto(m_pointer));
    const QRectF box(m_pointer.x() + 10, m_pointer.y() + 8, 18, 18);
    painter.save();
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setPen(QPen(QColor(0, 0, 0, 150), 3.2));
    painter.setBrush(hue.isValid() ? hue : QColor(0x88, 0x88, 0x88));
    painter.drawRoundedRect(box, 5, 5);
    painter.setPen(QPen(QColor(255, 255, 255, 230), 1.4));
    painter.drawRoundedRect(box, 5, 5);
    if (!hue.isValid())
        painter.drawLine(box.bottomLeft() + QPointF(4, -4), box.topRight() + QPointF(-4, 4));
    painter.restore();
}

QRectF Canvas::tipRect() const
{
    if (m_grey.isActive())
        return {m_pointer.x() - 4, m_pointer.y() - 4, 36, 34};
    const double r =
        std::max(1.5, double(m_toolbox.brush().tip().sizePx) / 2.0 * m_transform.logicalScale());
    return {m_pointer.x() - r, m_pointer.y() - r, 2 * r, 2 * r};
}

bool Canvas::showsTip() const
{
    return m_pointerInside && !m_spaceHeld && m_drag != Drag::Pan && m_drag != Drag::Split &&
           !m_original && !isOnSplitLine(m_pointer);
}

void Canvas::paintHint(QPainter &painter)
{
    if (m_hint.isEmpty() || m_drag == Drag::Paint) // it would cover what is painted
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

} // namespace buttonhole::app

#include "prepare/crop_hand.h"

#include "commands/move_words.h"
#include "style/theme.h"

#include <QKeyEvent>
#include <QPainter>
#include <QPainterPath>

#include <cmath>
#include <numeric>

namespace buttonhole::app
{

namespace
{

constexpr double kReachPx = 11; ///< round a handle, logical px
constexpr int kLeastPx = 16;    ///< of a crop drawn by hand, px of the photo

/// "3:2" where a small ratio says it to a fiftieth of a percent, "1.62:1" elsewhere.
QString ratioWord(int width, int height)
{
    constexpr int kMostTerm = 21;
    const double ratio = double(width) / height;
    for (int h = 1; h <= kMostTerm; ++h) {
        const double w = std::round(ratio * h);
        if (w >= 1 && w <= kMostTerm && std::abs(w / h / ratio - 1) < 2e-4 + 0.6 / height)
            return QStringLiteral("%1:%2").arg(int(w)).arg(h);
    }
    return ratio >= 1 ? QStringLiteral("%1:1").arg(ratio, 0, 'f', 2)
                      : QStringLiteral("1:%1").arg(1 / ratio, 0, 'f', 2);
}

/// Moved so far that it lies in `room`; it is no larger.
PictureRect movedInto(PictureRect r, const PictureRect &room)
{
    const int dx = std::max(room.x0 - r.x0, 0) + std::min(room.x1 - r.x1, 0);
    const int dy = std::max(room.y0 - r.y0, 0) + std::min(room.y1 - r.y1, 0);
    return {r.x0 + dx, r.y0 + dy, r.x1 + dx, r.y1 + dy};
}

} // namespace

CropHand::CropHand(Session &session, QObject *parent) : Hand(parent), m_session(session)
{
    connect(&session, &Session::takeChanged, this, [this](const SeenChange &what) {
        if (what.parts.geometry && isActive())
            Q_EMIT changed();
    });
}

void CropHand::setActive(bool active)
{
    if (m_isActive == active)
        return;
    endPreview();
    drop();
    m_isActive = active;
    Q_EMIT changed();
}

PictureMap CropHand::wholeMap() const
{
    Take all = *m_session.take();
    all.geometry.crop = m_session.levels()->photo().rect();
    return buttonhole::pictureOf(all, all.geometry.crop.width(), all.geometry.crop.height());
}

PictureRect CropHand::crop() const
{
    return m_session.picture().rect();
}

void CropHand::set(const PictureRect &crop, bool isLive, const QString &text)
{
    Take take = m_session.work().take();
    const Rect photo = m_session.levels()->photo().rect();
    const Rect cut = intersected(wholeMap().toLevelled(crop), photo);
    const Warp warp = wholeMap().warp();
    const bool isAll = cut == photo && (warp.isNone() || !m_allowsCorners);
    take.geometry.crop = isAll ? Rect{} : m_allowsCorners ? cut : filled(cut, warp);
    if (isLive)
        m_session.showLive(std::move(take), {});
    else if (!(take.geometry == m_session.work().take().geometry))
        m_session.edit(text, std::move(take), QStringLiteral("crop"));
}

/// As far on the way from the crop that there is as it stays filled.
Rect CropHand::filled(const Rect &to, const Warp &warp) const
{
    const Rect from = wholeMap().toLevelled(m_isDragging ? m_start : crop());
    if (warp.isFilled(to) || !warp.isFilled(from))
        return warp.filledPart(to);
    const auto between = [&](double t) {
        const auto at = [t](int a, int b) { return int(std::lround(a + t * (b - a))); };
        return Rect{at(from.x0, to.x0), at(from.y0, to.y0), at(from.x1, to.x1), at(from.y1, to.y1)};
    };
    constexpr int kHalvings = 12;
    double good = 0;
    double bad = 1;
    for (int i = 0; i < kHalvings; ++i)
        (warp.isFilled(between((good + bad) / 2)) ? good : bad) = (good + bad) / 2;
    return between(good);
}

void CropHand::setAllowsCorners(bool allows)
{
    m_allowsCorners = allows;
    if (!allows && m_session.hasPhoto())
        set(crop(), false, ofPrepare(tr("Crop")));
    Q_EMIT changed();
}

void CropHand::setRatio(double ratio)
{
    m_ratio = ratio;
    if (ratio > 0)
        set(withRatio(crop(), {}), false, ofPrepare(tr("Ratio")));
    Q_EMIT changed();
}

void CropHand::turnRatio()
{
    const PictureRect now = crop();
    m_ratio = m_ratio > 0 ? 1 / m_ratio : 0;
    resize(now.height(), now.width());
    if (m_ratio > 0)
        set(withRatio(crop(), {}), false, ofPrepare(tr("Ratio")));
    Q_EMIT changed();
}

void CropHand::setGuides(Guides guides)
{
    m_guides = guides;
    Q_EMIT changed();
}

PictureRect CropHand::resize(int width, int height)
{
    const PictureRect room = whole();
    const PictureRect now = crop();
    width = std::clamp(width, 1, room.width());
    height = std::clamp(height, 1, room.height());
    const int x = (now.x0 + now.x1 - width) / 2;
    const int y = (now.y0 + now.y1 - height) / 2;
    const PictureRect made = movedInto({x, y, x + width, y + height}, room);
    set(made, false, ofPrepare(tr("Crop")));
    return made;
}

void CropHand::takeAll()
{
    set(whole(), false, ofPrepare(tr("Whole photo")));
}

void CropHand::preview(const Rect &photo)
{
    if (!isActive() || m_isDragging)
        return;
    m_isPreviewing = true;
    set(wholeMap().fromLevelled(photo), true, {});
}

void CropHand::endPreview()
{
    if (std::exchange(m_isPreviewing, false))
        m_session.dropLive({});
}

void CropHand::choose(const Rect &photo)
{
    endPreview();
    set(wholeMap().fromLevelled(photo), false, ofPrepare(tr("Suggested crop")));
    m_session.endMerge();
}

CropHand::Grip CropHand::gripAt(const QPointF &at, const ViewTransform &view) const
{
    const QRectF box = view.boxOf(crop());
    if (!box.adjusted(-kReachPx, -kReachPx, kReachPx, kReachPx).contains(at))
        return {};
    Grip grip;
    const auto side = [](double v, double from, double to) {
        const double left = std::abs(v - from);
        const double right = std::abs(v - to);
        return std::min(left, right) > kReachPx ? 0 : left < right ? -1 : 1;
    };
    grip.x = side(at.x(), box.left(), box.right());
    grip.y = side(at.y(), box.top(), box.bottom());
    grip.isInside = !grip.isHandle();
    return grip;
}

/// As large as fits in the free one and in the photo, held at what the grip does not move.
PictureRect CropHand::withRatio(const PictureRect &free, const Grip &grip) const
{
    if (m_ratio <= 0)
        return free;
    const PictureRect room = whole();
    double width = free.width();
    double height = free.height();
    if (grip.x != 0 && grip.y == 0)
        height = width / m_ratio;
    else if (grip.y != 0 && grip.x == 0)
        width = height * m_ratio;
    else if (width / height > m_ratio)
        width = height * m_ratio;
    else
        height = width / m_ratio;
    // Held sides, or the middle, stay; so there is so much room.
    const auto mostOf = [](int side, int from, int to, int least, int most) {
        const double middle = (from + to) / 2.0;
        return side < 0   ? double(to - least)
               : side > 0 ? double(most - from)
                          : 2 * std::min(middle - least, most - middle);
    };
    const double fits = std::min({1.0, mostOf(grip.x, free.x0, free.x1, room.x0, room.x1) / width,
                                  mostOf(grip.y, free.y0, free.y1, room.y0, room.y1) / height});
    const int w = std::max(1, int(std::lround(width * fits)));
    const int h = std::max(1, int(std::lround(height * fits)));
    const int x = grip.x < 0 ? free.x1 - w : grip.x > 0 ? free.x0 : (free.x0 + free.x1 - w) / 2;
    const int y = grip.y < 0 ? free.y1 - h : grip.y > 0 ? free.y0 : (free.y0 + free.y1 - h) / 2;
    return intersected(movedInto({x, y, x + w, y + h}, room), room);
}

PictureRect CropHand::draggedTo(const PicturePoint &at) const
{
    const PictureRect room = whole();
    const int dx = int(std::lround(at.x - m_pressedAt.x));
    const int dy = int(std::lround(at.y - m_pressedAt.y));
    PictureRect r = m_start;
    if (m_grip.isInside)
        return movedInto({r.x0 + dx, r.y0 + dy, r.x1 + dx, r.y1 + dy}, room);
    if (!m_grip.isHandle()) {
        const auto inRoom = [](double v, int least, int most) {
            return int(std::lround(std::clamp(v, double(least), double(most))));
        };
        const int ax = inRoom(m_pressedAt.x, room.x0, room.x1);
        const int ay = inRoom(m_pressedAt.y, room.y0, room.y1);
        const int bx = inRoom(at.x, room.x0, room.x1);
        const int by = inRoom(at.y, room.y0, room.y1);
        const Grip grows{bx < ax ? -1 : 1, by < ay ? -1 : 1, false};
        r = {std::min(ax, bx), std::min(ay, by), std::max(ax, bx), std::max(ay, by)};
        return r.width() < kLeastPx || r.height() < kLeastPx ? m_start : withRatio(r, grows);
    }
    if (m_grip.x < 0)
        r.x0 = std::clamp(r.x0 + dx, room.x0, r.x1 - kLeastPx);
    if (m_grip.x > 0)
        r.x1 = std::clamp(r.x1 + dx, r.x0 + kLeastPx, room.x1);
    if (m_grip.y < 0)
        r.y0 = std::clamp(r.y0 + dy, room.y0, r.y1 - kLeastPx);
    if (m_grip.y > 0)
        r.y1 = std::clamp(r.y1 + dy, r.y0 + kLeastPx, room.y1);
    return withRatio(r, m_grip);
}

void CropHand::press(const QPointF &at, const ViewTransform &view)
{
    endPreview();
    m_grip = gripAt(at, view);
    m_start = crop();
    m_pressedAt = view.toPicture(at);
    m_isDragging = true;
    m_hasMoved = false;
    Q_EMIT changed();
}

void CropHand::drag(const QPointF &at, const ViewTransform &view)
{
    if (!m_isDragging)
        return;
    const PictureRect to = draggedTo(view.toPicture(at));
    if (!m_hasMoved && to == m_start)
        return;
    m_hasMoved = true;
    set(to, true, {});
}

void CropHand::release()
{
    if (!std::exchange(m_isDragging, false))
        return;
    if (m_hasMoved)
        m_session.commitLive(ofPrepare(tr("Crop")));
    Q_EMIT changed();
}

bool CropHand::drop()
{
    if (!std::exchange(m_isDragging, false))
        return false;
    if (m_hasMoved)
        m_session.dropLive({});
    Q_EMIT changed();
    return true;
}

bool CropHand::key(const QKeyEvent &event)
{
    const int step = event.modifiers().testFlag(Qt::ShiftModifier) ? 10 : 1;
    const auto moveBy = [&](int dx, int dy) {
        const PictureRect r = crop();
        set(movedInto({r.x0 + dx, r.y0 + dy, r.x1 + dx, r.y1 + dy}, whole()), false,
            ofPrepare(tr("Crop")));
        return true;
    };
    switch (event.key()) {
    case Qt::Key_Left:
        return moveBy(-step, 0);
    case Qt::Key_Right:
        return moveBy(step, 0);
    case Qt::Key_Up:
        return moveBy(0, -step);
    case Qt::Key_Down:
        return moveBy(0, step);
    case Qt::Key_X:
        return turnRatio(), true;
    case Qt::Key_G:
        return setGuides(Guides((int(m_guides) + 1) % 5)), true;
    case Qt::Key_Return:
    case Qt::Key_Enter:
        Q_EMIT closeAsked();
        return true;
    default:
        return false;
    }
}

bool CropHand::takesKey(const QKeyEvent &event) const
{
    return event.modifiers() == Qt::NoModifier &&
           (event.key() == Qt::Key_X || event.key() == Qt::Key_G);
}

Qt::CursorShape CropHand::cursorAt(const QPointF &at, const ViewTransform &view) const
{
    const Grip grip = m_isDragging ? m_grip : gripAt(at, view);
    if (grip.isInside)
        return Qt::SizeAllCursor;
    if (grip.x != 0 && grip.y != 0)
        return grip.x == grip.y ? Qt::SizeFDiagCursor : Qt::SizeBDiagCursor;
    return grip.x != 0 ? Qt::SizeHorCursor : grip.y != 0 ? Qt::SizeVerCursor : Qt::CrossCursor;
}

void CropHand::paintGuides(QPainter &painter, const QRectF &box) const
{
    const auto at = [&](double x, double y) {
        return QPointF(box.left() + x * box.width(), box.top() + y * box.height());
    };
    const auto grid = [&](double share) {
        for (const double s : {share, 1 - share}) {
            painter.drawLine(at(s, 0), at(s, 1));
            painter.drawLine(at(0, s), at(1, s));
        }
    };
    constexpr double kGolden = 0.381966;
    switch (m_guides) {
    case Guides::None:
        break;
    case Guides::Thirds:
        grid(1.0 / 3);
        break;
    case Guides::Golden:
        grid(kGolden);
        break;
    case Guides::Diagonals:
        painter.drawLine(at(0, 0), at(1, 1));
        painter.drawLine(at(1, 0), at(0, 1));
        break;
    case Guides::Centre:
        painter.drawLine(at(0.5, 0), at(0.5, 1));
        painter.drawLine(at(0, 0.5), at(1, 0.5));
        break;
    }
}

void CropHand::paint(QPainter &painter, const ViewTransform &view, const QColor &surround) const
{
    const PictureRect now = crop();
    const QRectF box = view.boxOf(now);
    QPainterPath outside;
    outside.addRect(view.boxOf(whole()).adjusted(-1, -1, 1, 1));
    QPainterPath inside;
    inside.addRect(box);
    QColor dim = surround;
    constexpr float kDim = 0.78F;
    constexpr float kDimLess = 0.6F; // what is cropped away is judged while dragging
    dim.setAlphaF(m_isDragging ? kDimLess : kDim);
    painter.fillPath(outside - inside, dim);

    painter.setRenderHint(QPainter::Antialiasing, false);
    painter.setPen(QPen(QColor(0, 0, 0, 90), 1));
    painter.save();
    painter.translate(1, 1);
    paintGuides(painter, box);
    painter.restore();
    painter.setPen(QPen(QColor(255, 255, 255, 130), 1));
    paintGuides(painter, box);

    painter.setPen(QPen(QColor(0, 0, 0, 150), 3));
    painter.drawRect(box);
    painter.setPen(QPen(felt().thread, 1));
    painter.drawRect(box);
    painter.setRenderHint(QPainter::Antialiasing);
    for (const double x : {0.0, 0.5, 1.0})
        for (const double y : {0.0, 0.5, 1.0}) {
            if (x == 0.5 && y == 0.5)
                continue;
            const QPointF at(box.left() + x * box.width(), box.top() + y * box.height());
            constexpr double kRadius = 4.5;
            painter.setPen(QPen(QColor(0, 0, 0, 170), 1));
            painter.setBrush(felt().thread);
            painter.drawEllipse(at, kRadius, kRadius);
        }

    const QString text = tr("%1 × %2 px   %3")
                             .arg(now.width())
                             .arg(now.height())
                             .arg(ratioWord(now.width(), now.height()));
    QRectF label(QPointF(), QSizeF(painter.fontMetrics().size(Qt::TextSingleLine, text)));
    label.adjust(0, 0, 16, 8);
    label.moveCenter({box.center().x(), box.bottom() - label.height()});
    painter.setPen(Qt::NoPen);
    painter.setBrush(QColor(20, 20, 20, 170));
    painter.drawRoundedRect(label, 4, 4);
    painter.setPen(QColor(245, 245, 243));
    painter.drawText(label, Qt::AlignCenter, text);
}

} // namespace buttonhole::app

#include "grey/looks_gallery.h"

#include "export/small_picture.h"
#include "style/theme.h"

#include <QKeyEvent>
#include <QPainter>

namespace buttonhole::app
{

namespace
{

constexpr int kColumns = 3;
constexpr int kGap = 6;
constexpr int kPicture = 56; // height
constexpr int kName = 17;
constexpr int kLongEdgePx = 168; // twice the width, for fine screens

bool sameButGrey(const Take &a, const Take &b)
{
    if (a.keeps.size() != b.keeps.size())
        return false;
    for (size_t i = 0; i < a.keeps.size(); ++i)
        if (shapedContent(a.keeps[i]) != shapedContent(b.keeps[i]) ||
            a.keeps[i].on != b.keeps[i].on || a.keeps[i].strength != b.keeps[i].strength)
            return false;
    return true;
}

} // namespace

LooksGallery::LooksGallery(Session &session, Jobs &jobs, QWidget *parent)
    : QWidget(parent), m_session(session), m_jobs(jobs)
{
    setFocusPolicy(Qt::StrongFocus);
    setMouseTracking(true);
    setAccessibleName(tr("Looks"));
    setToolTip(tr("Point at a look to see it on the photo, click to take it"));
    m_timer.setSingleShot(true);
    m_timer.setInterval(250);
    connect(&m_timer, &QTimer::timeout, this, &LooksGallery::renderPictures);
    connect(&m_session, &Session::historyChanged, this, [this] {
        update();
        refreshSoon();
    });
    connect(&m_session, &Session::photoChanged, this, [this] {
        m_pictures.clear();
        m_madeFrom.reset();
        m_pointed = -1;
        m_isPreviewing = false;
        refreshSoon();
    });
}

int LooksGallery::count() const
{
    return int(looks().size()) + 1;
}

GreyMix LooksGallery::mixOf(int index) const
{
    return index == 0 ? GreyMix() : looks()[size_t(index) - 1].mix;
}

QString LooksGallery::nameOf(int index) const
{
    return index == 0 ? tr("Plain") : QString::fromStdString(looks()[size_t(index) - 1].name);
}

QSize LooksGallery::sizeHint() const
{
    const int rows = (count() + kColumns - 1) / kColumns;
    return {240, rows * (kPicture + kName + kGap)};
}

QRect LooksGallery::cell(int index) const
{
    const int w = (width() - (kColumns - 1) * kGap) / kColumns;
    return {(index % kColumns) * (w + kGap), (index / kColumns) * (kPicture + kName + kGap), w,
            kPicture + kName};
}

void LooksGallery::refreshSoon()
{
    if (isVisible() && m_session.hasPhoto() && !m_isPreviewing)
        m_timer.start();
}

void LooksGallery::renderPictures()
{
    if (m_isRendering || m_isPreviewing || !m_session.hasPhoto() || !isVisible())
        return;
    const auto from = m_session.take();
    if (m_madeFrom && sameButGrey(*m_madeFrom, *from))
        return;
    m_isRendering = true;
    std::vector<GreyMix> mixes;
    mixes.reserve(size_t(count()));
    for (int i = 0; i < count(); ++i)
        mixes.push_back(mixOf(i));
    m_jobs.start(
        {},
        [levels = m_session.levels(), from, mixes](const Run &) {
            QList<QImage> pictures;
            for (const GreyMix &mix : mixes) {
                Take take = *from;
                take.grey = mix;
                take.greyOn = true;
                const auto small = renderSmall(*levels, take, kLongEdgePx);
                pictures.append(small ? QImage(small->row(0), small->width(), small->height(),
                                               int(small->stride()), QImage::Format_RGB888)
                                            .copy()
                                      : QImage());
            }
            return pictures;
        },
        [this, guard = QPointer<LooksGallery>(this), from](const QList<QImage> &pictures) {
            if (!guard)
                return;
            m_isRendering = false;
            m_pictures = pictures;
            m_madeFrom = from;
            update();
            refreshSoon(); // the take may have changed meanwhile
        });
}

void LooksGallery::paintEvent(QPaintEvent *)
{
    QPainter painter(this);
    painter.setRenderHints(QPainter::Antialiasing | QPainter::SmoothPixmapTransform);
    const Felt &f = felt();
    const std::string &taken = m_session.hasPhoto() ? m_session.work().take().grey.look : "";
    const bool isPlain = m_session.hasPhoto() && m_session.work().take().grey == GreyMix();
    painter.setFont(smallFont());
    for (int i = 0; i < count(); ++i) {
        const QRect box = cell(i);
        const QRect frame(box.x(), box.y(), box.width(), kPicture);
        painter.setPen(Qt::NoPen);
        painter.setBrush(f.card);
        painter.drawRoundedRect(frame, 4, 4);
        if (i < m_pictures.size()) {
            const QImage &image = m_pictures[i];
            const QSize size = image.size().scaled(frame.size(), Qt::KeepAspectRatioByExpanding);
            const double x = double(image.width()) * frame.width() / size.width();
            const double y = double(image.height()) * frame.height() / size.height();
            painter.drawImage(QRectF(frame), image,
                              QRectF((image.width() - x) / 2, (image.height() - y) / 2, x, y));
        }
        const bool isTaken = i == 0 ? isPlain : !taken.empty() && nameOf(i).toStdString() == taken;
        painter.setBrush(Qt::NoBrush);
        if (isTaken || i == m_pointed) {
            painter.setPen(QPen(isTaken ? f.thread : f.ink, 2));
            painter.drawRoundedRect(QRectF(frame).adjusted(1, 1, -1, -1), 4, 4);
        }
        painter.setPen(isTaken ? f.threadInk : f.ink);
        painter.drawText(QRect(box.x(), frame.bottom() + 1, box.width(), kName), Qt::AlignCenter,
                         painter.fontMetrics().elidedText(nameOf(i), Qt::ElideRight, box.width()));
    }
    if (hasFocus())
        drawFocusStitch(painter, m_pointed >= 0
                                     ? QRectF(cell(m_pointed)).adjusted(0.5, 0.5, -0.5, -0.5)
                                     : QRectF(rect()).adjusted(0.5, 0.5, -0.5, -0.5));
}

void LooksGallery::pointAt(int index)
{
    if (m_pointed == index)
        return;
    m_pointed = index;
    update();
    if (!m_session.hasPhoto())
        return;
    if (index < 0) {
        if (m_isPreviewing) {
            m_isPreviewing = false;
            m_session.dropLive({});
            refreshSoon();
        }
        return;
    }
    m_isPreviewing = true;
    Take shown = m_session.work().take();
    shown.grey = mixOf(index);
    shown.greyOn = true;
    m_session.showLive(std::move(shown), {});
    setAccessibleDescription(nameOf(index));
}

void LooksGallery::take(int index)
{
    if (index < 0 || !m_session.hasPhoto())
        return;
    m_isPreviewing = false;
    Take next = m_session.work().take();
    next.grey = mixOf(index);
    next.greyOn = true;
    m_session.edit(tr("Look %1 on Grey").arg(nameOf(index)), std::move(next));
}

void LooksGallery::mouseMoveEvent(QMouseEvent *event)
{
    int hit = -1;
    for (int i = 0; i < count() && hit < 0; ++i)
        if (cell(i).contains(event->position().toPoint()))
            hit = i;
    pointAt(hit);
}

void LooksGallery::mousePressEvent(QMouseEvent *event)
{
    for (int i = 0; i < count(); ++i)
        if (cell(i).contains(event->position().toPoint()))
            take(i);
}

void LooksGallery::leaveEvent(QEvent *)
{
    pointAt(-1);
}

void LooksGallery::focusOutEvent(QFocusEvent *event)
{
    pointAt(-1);
    QWidget::focusOutEvent(event);
}

void LooksGallery::showEvent(QShowEvent *event)
{
    QWidget::showEvent(event);
    refreshSoon();
}

void LooksGallery::hideEvent(QHideEvent *event)
{
    pointAt(-1);
    QWidget::hideEvent(event);
}

void LooksGallery::keyPressEvent(QKeyEvent *event)
{
    const auto go = [&](int by) {
        pointAt(std::clamp(std::max(m_pointed, 0) + by, 0, count() - 1));
    };
    switch (event->key()) {
    case Qt::Key_Left:
        return go(-1);
    case Qt::Key_Right:
        return go(m_pointed < 0 ? 0 : 1);
    case Qt::Key_Up:
        return go(-kColumns);
    case Qt::Key_Down:
        return go(m_pointed < 0 ? 0 : kColumns);
    case Qt::Key_Return:
    case Qt::Key_Enter:
    case Qt::Key_Space:
        return take(m_pointed);
    case Qt::Key_Escape:
        return pointAt(-1);
    default:
        QWidget::keyPressEvent(event);
    }
}

} // namespace buttonhole::app

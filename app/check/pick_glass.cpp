#include "check/pick_glass.h"

#include "style/theme.h"

#include <QPainter>
#include <QPainterPath>
#include <QWheelEvent>

#include <cmath>

namespace buttonhole::app
{

namespace
{

/// A few thousand pixels are rendered here and now, so that the glass never lags, unless each of
/// them depends on many round it.
bool isSlow(const Take &take)
{
    return std::any_of(take.keeps.begin(), take.keeps.end(),
                       [](const Keep &keep) { return keep.on && keep.hasMargin(); });
}

} // namespace

PickGlass::PickGlass(Session &session, Canvas &canvas, Jobs &jobs, QWidget *parent)
    : QWidget(parent), m_session(session), m_canvas(canvas), m_jobs(jobs)
{
    setFixedHeight(160);
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
    setAccessibleName(tr("Pick glass"));
    setToolTip(
        tr("The photo's pixels under the pointer, or the keep's edge while that is elsewhere; "
           "the wheel changes the enlargement"));
    connect(&m_canvas, &Canvas::pointerMoved, this, [this](const QPointF &photo) {
        m_at = photo;
        m_isPointed = true;
        update();
    });
    connect(&m_canvas, &Canvas::pointerLeft, this, [this] {
        m_isPointed = false;
        rest();
    });
    connect(&m_canvas, &Canvas::edgeFound, this, &PickGlass::rest);
    connect(&m_session, &Session::photoChanged, this, [this] {
        const Photo &photo = m_session.levels()->photo();
        m_at = {photo.width / 2.0, photo.height / 2.0};
        m_shownAsk = {}; // the photo before is not kept in memory, seen or not
        update();
    });
    connect(&m_session, &Session::takeChanged, this, QOverload<>::of(&QWidget::update));
    connect(&m_canvas, &Canvas::sharpened, this, [this] {
        m_isStale = true;
        update();
    });
}

/// While the pointer is elsewhere, at the bench's sliders for example, what they do to an edge is
/// seen here: at fit it is too fine for the canvas.
void PickGlass::rest()
{
    if (m_isPointed || !m_canvas.edge())
        return;
    m_at = *m_canvas.edge();
    update();
}

void PickGlass::setZoom(int zoom)
{
    m_zoom = zoom;
    update();
    Q_EMIT optionsChanged();
}

void PickGlass::setShowsMask(bool shows)
{
    m_showsMask = shows;
    update();
    Q_EMIT optionsChanged();
}

PictureRect PickGlass::pointed() const
{
    // The middle of the photo's pixel, whose picture's it is where the photo is not levelled.
    const PicturePoint at = m_canvas.transform().picture().toPicture(std::floor(m_at.x()) + 0.5,
                                                                     std::floor(m_at.y()) + 0.5);
    const int x = int(std::floor(at.x));
    const int y = int(std::floor(at.y));
    return {x, y, x + 1, y + 1};
}

PictureRect PickGlass::seen() const
{
    const PictureRect at = pointed();
    const double ratio = devicePixelRatioF();
    const int w = int(std::ceil(width() * ratio / m_zoom));
    const int h = int(std::ceil(height() * ratio / m_zoom));
    const int x = at.x0 - w / 2;
    const int y = at.y0 - h / 2;
    return {x, y, x + w, y + h};
}

PickGlass::Ask PickGlass::asked() const
{
    const View view = m_showsMask                ? View::Mask
                      : m_canvas.showsOriginal() ? View::Original
                                                 : View::Result;
    return {m_session.levels(), m_session.take(), m_canvas.output(), view, seen(),
            felt().line.rgb()};
}

QImage PickGlass::render(const Ask &ask)
{
    QImage image(ask.whole.width(), ask.whole.height(), QImage::Format_RGB32);
    image.fill(ask.ground);
    if (!ask.levels)
        return image;
    const PictureRect area = intersected(ask.whole, pictureOf(*ask.levels, *ask.take).rect());
    if (area.isEmpty())
        return image;
    const RenderTarget target{RenderTarget::Layout::Bgrx8,
                              image.scanLine(area.y0 - ask.whole.y0) +
                                  size_t(area.x0 - ask.whole.x0) * 4,
                              size_t(image.bytesPerLine())};
    RenderOptions options;
    options.isDraft = true;
    if (!renderPicture(*ask.levels, *ask.take, ask.view, 0, area, *ask.output, target, options))
        image.fill(ask.ground);
    return image;
}

QImage PickGlass::picture() const
{
    return render(asked());
}

/// Brings m_shown up to what is asked for: at once, or as soon as it is there.
void PickGlass::follow()
{
    const Ask ask = asked();
    if (m_isRendering || (ask == m_shownAsk && !m_isStale))
        return;
    m_isStale = false;
    if (!ask.take || !isSlow(*ask.take) || ask.levels != m_shownAsk.levels) {
        m_shown = render(ask);
        m_shownAsk = ask;
        return;
    }
    m_isRendering = true;
    m_jobs.start(
        {}, [ask](const Run &) { return render(ask); },
        [this, ask, guard = QPointer<PickGlass>(this)](const QImage &image) {
            if (!guard)
                return;
            m_isRendering = false;
            update();
            if (ask.levels != m_session.levels()) // of a photo that was closed meanwhile
                return;
            m_shown = image;
            m_shownAsk = ask;
        });
}

void PickGlass::paintEvent(QPaintEvent *)
{
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    QPainterPath frame;
    frame.addRoundedRect(QRectF(rect()).adjusted(0.5, 0.5, -0.5, -0.5), 7, 7);
    painter.setClipPath(frame);
    follow();
    const QImage &image = m_shown;
    const double k = m_zoom / devicePixelRatioF();
    painter.drawImage(QRectF(0, 0, image.width() * k, image.height() * k), image);
    if (m_session.hasPhoto()) {
        // The pixel under the pointer.
        const PictureRect whole = seen();
        const PictureRect pixel = pointed();
        const QRectF at((pixel.x0 - whole.x0) * k, (pixel.y0 - whole.y0) * k, k, k);
        painter.setBrush(Qt::NoBrush);
        painter.setPen(QPen(QColor(0, 0, 0, 170), 1));
        painter.drawRect(at.adjusted(-1.5, -1.5, 1.5, 1.5));
        painter.setPen(QPen(QColor(255, 255, 255, 230), 1));
        painter.drawRect(at.adjusted(-0.5, -0.5, 0.5, 0.5));
    }
    painter.setClipping(false);
    painter.setPen(QPen(felt().line, 1));
    painter.setBrush(Qt::NoBrush);
    painter.drawPath(frame);
}

void PickGlass::wheelEvent(QWheelEvent *event)
{
    if (event->angleDelta().y() > 0)
        setZoom(std::min(8, m_zoom * 2));
    else if (event->angleDelta().y() < 0)
        setZoom(std::max(2, m_zoom / 2));
    event->accept();
}

} // namespace buttonhole::app

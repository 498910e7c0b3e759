#include "check/colour_field_view.h"

#include "commands/move_words.h"
#include "style/hue_colour.h"
#include "style/theme.h"

#include <QMouseEvent>
#include <QPainter>
#include <QPointer>

#include <cmath>

namespace buttonhole::app
{

namespace
{

constexpr int kHeight = 132;
constexpr int kBarWidth = 12;
constexpr int kGap = 8;
constexpr double kNearPx = 6;
constexpr double kMostChroma = 0.4; ///< top of the bar
constexpr float kNarrowest = 2;     ///< degrees

} // namespace

ColourFieldView::ColourFieldView(Session &session, Jobs &jobs, QWidget *parent)
    : QWidget(parent), m_session(session), m_jobs(jobs)
{
    setFixedHeight(kHeight);
    setMouseTracking(true);
    setAccessibleName(tr("Colour field"));
    setToolTip(tr("This photo's colours: hue across, lightness up; what is kept is lit.\n"
                  "Drag across hues to keep them; then drag the window or its sides.\n"
                  "The bar is the least chroma that is kept."));
    m_soon.setSingleShot(true);
    m_soon.setInterval(300);
    connect(&m_soon, &QTimer::timeout, this, &ColourFieldView::measure);
    const auto soon = [this] {
        update();
        if (isVisible())
            m_soon.start();
    };
    connect(&m_session, &Session::takeChanged, this, [soon](const SeenChange &what) {
        if (what.parts.keeps) // what of each colour is kept
            soon();
    });
    connect(&m_session, &Session::photoChanged, this, [this] {
        if (isVisible())
            measure(); // there is nothing to wait for
    });
    connect(&m_session, &Session::lineChanged, this, qOverload<>(&QWidget::update));
}

const ColourWindow *ColourFieldView::window() const
{
    const Step *step = m_session.step();
    const auto *shape = step ? dynamic_cast<const ColourWindowStep *>(step->shape.get()) : nullptr;
    return shape ? &shape->window() : nullptr;
}

QRectF ColourFieldView::fieldRect() const
{
    return {0.5, 0.5, width() - kBarWidth - kGap - 1.0, height() - 1.0};
}

QRectF ColourFieldView::chromaRect() const
{
    return {width() - kBarWidth - 0.5, 0.5, double(kBarWidth), height() - 1.0};
}

QPointF ColourFieldView::placeOf(double hueDeg, double lightness) const
{
    const QRectF field = fieldRect();
    return {field.left() + hueDeg / 360 * field.width(),
            field.bottom() - lightness * field.height()};
}

QPointF ColourFieldView::placeOfChroma(double chroma) const
{
    const QRectF bar = chromaRect();
    return {bar.center().x(), bar.bottom() - std::min(chroma / kMostChroma, 1.0) * bar.height()};
}

QRectF ColourFieldView::windowRect(const ColourWindow &window) const
{
    const ColourRange &range = window.range;
    const double half = double(range.hueWidthDeg) / 2;
    const double least = window.followsShading ? 0 : double(range.lightness.least);
    const double most = window.followsShading ? 1 : double(range.lightness.most);
    return {placeOf(double(range.hueDeg) - half, most),
            placeOf(double(range.hueDeg) + half, least)};
}

ColourFieldView::Hold ColourFieldView::holdAt(const QPointF &at) const
{
    const ColourWindow *shown = window();
    if (!shown)
        return Hold::None;
    if (at.x() > fieldRect().right() + kGap / 2.0)
        return Hold::Chroma;
    for (const double turn : {0.0, fieldRect().width(), -fieldRect().width()}) {
        const QRectF r = windowRect(*shown).translated(turn, 0);
        if (!r.adjusted(-kNearPx, -kNearPx, kNearPx, kNearPx).contains(at))
            continue;
        if (std::abs(at.x() - r.left()) < kNearPx)
            return Hold::Left;
        if (std::abs(at.x() - r.right()) < kNearPx)
            return Hold::Right;
        if (!shown->followsShading && std::abs(at.y() - r.top()) < kNearPx)
            return Hold::Top;
        if (!shown->followsShading && std::abs(at.y() - r.bottom()) < kNearPx)
            return Hold::Bottom;
        return Hold::Middle;
    }
    return Hold::None;
}

void ColourFieldView::mousePressEvent(QMouseEvent *event)
{
    if (event->button() == Qt::LeftButton && m_session.hasPhoto() && m_session.masked())
        begin(event->position());
}

void ColourFieldView::begin(const QPointF &at)
{
    m_from = at;
    m_hold = holdAt(at);
    if (!window() && m_session.masked() &&
        fieldRect().contains(at)) { // a new one, from here to where it is let go
        ColourWindow fresh;
        fresh.range.hueDeg = float((at.x() - fieldRect().left()) / fieldRect().width() * 360);
        fresh.range.hueWidthDeg = kNarrowest;
        const uint64_t line = m_session.masked()->id;
        uint64_t step = 0;
        m_session.edit(onMask(m_session, tr("Colour window")),
                       withNewStep(*m_session.take(), line, Sign::Add,
                                   std::make_shared<ColourWindowStep>(fresh), &step),
                       QStringLiteral("colour-field-%1").arg(step));
        m_session.select({TicketLine::Kind::Step, line, step});
        m_hold = Hold::Right;
    }
    if (const ColourWindow *shown = window())
        m_start = *shown;
}

void ColourFieldView::mouseMoveEvent(QMouseEvent *event)
{
    if (m_hold != Hold::None) {
        drag(event->position());
        return;
    }
    const Hold under = holdAt(event->position());
    setCursor(under == Hold::Left || under == Hold::Right ? Qt::SizeHorCursor
              : under == Hold::None                       ? Qt::CrossCursor
              : under == Hold::Middle                     ? Qt::SizeAllCursor
                                                          : Qt::SizeVerCursor);
}

void ColourFieldView::drag(const QPointF &at)
{
    ColourWindow changed = m_start;
    ColourRange &range = changed.range;
    const auto hues = float((at.x() - m_from.x()) / fieldRect().width() * 360);
    const auto tones = float(-(at.y() - m_from.y()) / fieldRect().height());
    const auto wrapped = [](float hue) { return std::fmod(std::fmod(hue, 360.0F) + 360, 360.0F); };
    SoftRange &lightness = range.lightness;
    switch (m_hold) {
    case Hold::None:
        return;
    case Hold::Left:
    case Hold::Right: {
        // The other side stays where it is; a drag over it turns the window round.
        const float by = m_hold == Hold::Right ? hues : -hues;
        const float wide = std::clamp(range.hueWidthDeg + by, -360.0F, 360.0F);
        range.hueWidthDeg = std::max(std::abs(wide), kNarrowest);
        const float shift = (wide - m_start.range.hueWidthDeg) / 2;
        range.hueDeg = wrapped(range.hueDeg + (m_hold == Hold::Right ? shift : -shift));
        break;
    }
    case Hold::Top:
        lightness.most = std::clamp(lightness.most + tones, lightness.least, 1.0F);
        break;
    case Hold::Bottom:
        lightness.least = std::clamp(lightness.least + tones, 0.0F, lightness.most);
        break;
    case Hold::Middle: {
        range.hueDeg = wrapped(range.hueDeg + hues);
        const float up = std::clamp(tones, -lightness.least, 1 - lightness.most);
        if (!changed.followsShading) {
            lightness.least += up;
            lightness.most += up;
        }
        break;
    }
    case Hold::Chroma:
        range.chroma.least = float(std::clamp(
            (chromaRect().bottom() - at.y()) / chromaRect().height() * kMostChroma, 0.0, 0.4));
        break;
    }
    put(changed);
}

void ColourFieldView::put(const ColourWindow &changed)
{
    const Step *step = m_session.step();
    if (!step || !window())
        return;
    m_session.edit(
        onMask(m_session, tr("Colour window")),
        withStep(*m_session.take(), m_session.masked()->id, step->id,
                 [&](Step &s) { s.shape = std::make_shared<ColourWindowStep>(changed); }),
        QStringLiteral("colour-field-%1").arg(step->id));
}

void ColourFieldView::mouseReleaseEvent(QMouseEvent *)
{
    m_hold = Hold::None;
    m_session.endMerge();
}

void ColourFieldView::showEvent(QShowEvent *)
{
    m_soon.start();
}

void ColourFieldView::measure()
{
    if (!m_session.hasPhoto())
        return;
    m_isStale = m_isMeasuring;
    if (m_isMeasuring)
        return;
    m_isMeasuring = true;
    m_jobs.start(
        {},
        [levels = m_session.levels(), take = m_session.take()](const Run &) {
            return measureColourField(*levels, *take);
        },
        [this, guard = QPointer<ColourFieldView>(this)](const ColourField &field) {
            if (!guard)
                return;
            m_isMeasuring = false;
            draw(field);
            if (m_isStale)
                measure();
        });
}

void ColourFieldView::draw(const ColourField &field)
{
    m_image = QImage(ColourField::kHues, ColourField::kTones, QImage::Format_ARGB32_Premultiplied);
    m_image.fill(Qt::transparent);
    for (int tone = 0; tone < ColourField::kTones; ++tone)
        for (int hue = 0; hue < ColourField::kHues; ++hue) {
            const ColourField::Cell &cell = field.at(hue, tone);
            if (cell.share <= 0)
                continue;
            const double lightness = 1 - (tone + 0.5) / ColourField::kTones;
            const double lit = 0.12 + 0.88 * double(cell.kept);
            QColor colour = colourOfHue((hue + 0.5) * 360 / ColourField::kHues, lightness,
                                        double(cell.chroma) * lit);
            // Rare colours are faint, one pixel in ten thousand is solid.
            const double often = std::clamp(std::log10(double(cell.share) * 1e6) / 2, 0.25, 1.0);
            colour.setAlphaF(float(often * (0.45 + 0.55 * double(cell.kept))));
            m_image.setPixelColor(hue, tone, colour);
        }
    m_hasField = true;
    update();
}

void ColourFieldView::paintEvent(QPaintEvent *)
{
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    const QRectF field = fieldRect();
    painter.setPen(QPen(felt().line, 1));
    painter.setBrush(QColor(0x8A, 0x8A, 0x8A)); // mid grey: all colours are seen against it
    painter.drawRoundedRect(field, 5, 5);
    const ColourWindow *shown = window();
    QLinearGradient chroma(chromaRect().bottomLeft(), chromaRect().topLeft());
    chroma.setColorAt(0, QColor(0x8A, 0x8A, 0x8A));
    if (shown)
        chroma.setColorAt(1, colourOfHue(double(shown->range.hueDeg), 0.62, 0.22));
    painter.setBrush(chroma);
    painter.drawRoundedRect(chromaRect(), 4, 4);
    if (m_session.hasPhoto() && !m_image.isNull())
        painter.drawImage(field.adjusted(1, 1, -1, -1), m_image);
    if (!shown)
        return;
    painter.setClipRect(field);
    for (const double turn : {0.0, field.width(), -field.width()})
        drawThreadBox(painter, windowRect(*shown).translated(turn, 0).adjusted(0, 2, 0, -2), 3);
    painter.setClipping(false);
    QPointF at = placeOfChroma(double(shown->range.chroma.least));
    at.setY(std::clamp(at.y(), 3.0, height() - 3.0)); // seen at the ends too
    drawThreadBox(painter, QRectF(at - QPointF(6, 0.5), at + QPointF(6, 0.5)), 0.5);
}

} // namespace buttonhole::app

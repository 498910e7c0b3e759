#include "grey/grey_drag.h"

#include "colour/oklab.h"
#include "commands/move_words.h"
#include "style/hue_colour.h"
#include "tone/hue_curve.h"

#include <cmath>

namespace buttonhole::app
{

namespace
{

constexpr double kLeastChroma = 0.02; // below it hue is noise
constexpr double kPxForAll = 160;     // from 0 to 100

/// The mean over a few pixels, so that noise does not pick the hue.
std::optional<PixelReading> readAround(const PhotoLevels &levels, const QPointF &photo)
{
    const Rect area = intersected(levels.photo().rect(), {int(photo.x()) - 2, int(photo.y()) - 2,
                                                          int(photo.x()) + 3, int(photo.y()) + 3});
    if (area.isEmpty())
        return std::nullopt;
    Oklab sum;
    for (int y = area.y0; y < area.y1; ++y)
        for (int x = area.x0; x < area.x1; ++x) {
            const PixelReading reading = readPixel(levels, x, y);
            const double angle = reading.hueDeg * 3.14159265358979323846 / 180;
            sum.a += reading.chroma * std::cos(angle) / double(area.area());
            sum.b += reading.chroma * std::sin(angle) / double(area.area());
            sum.L += reading.lightness / double(area.area());
        }
    if (chroma(sum) < kLeastChroma)
        return std::nullopt;
    return PixelReading{sum.L, chroma(sum), hueDeg(sum)};
}

} // namespace

bool GreyDrag::isActive() const
{
    return m_session.hasPhoto() && m_session.line().kind == TicketLine::Kind::Grey &&
           m_session.take()->greyOn;
}

QColor GreyDrag::hueAt(const QPointF &photo) const
{
    if (m_isDragging)
        return colourOfHue(m_start.hue[m_point].hueDeg);
    const auto reading = readAround(*m_session.levels(), photo);
    return reading ? colourOfHue(reading->hueDeg) : QColor();
}

bool GreyDrag::press(const QPointF &photo)
{
    const auto reading = readAround(*m_session.levels(), photo);
    if (!reading)
        return false;
    m_start = m_session.take()->grey;
    m_point = grabHuePoint(m_start.hue, float(reading->hueDeg));
    m_isDragging = true;
    m_hasMoved = false;
    return true;
}

void GreyDrag::drag(double up)
{
    if (!m_isDragging)
        return;
    Take take = *m_session.take();
    take.grey = m_start;
    float &value = take.grey.hue[m_point].value;
    value = float(std::clamp(std::round(double(value) + up * 100 / kPxForAll), -100.0, 100.0));
    if (!m_hasMoved && take.grey.hue[m_point].value == m_start.hue[m_point].value)
        return;
    m_hasMoved = true;
    m_session.showLive(std::move(take), {});
}

void GreyDrag::release()
{
    if (!m_isDragging)
        return;
    m_isDragging = false;
    if (m_hasMoved)
        m_session.commitLive(ofGrey(tr("One hue")));
}

void GreyDrag::drop()
{
    if (!m_isDragging)
        return;
    m_isDragging = false;
    if (m_hasMoved)
        m_session.dropLive({});
}

} // namespace buttonhole::app

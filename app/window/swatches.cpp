// The main window's pictures of keeps: swatches in the ticket, and what the selected one keeps.
#include "window/main_window.h"

#include "render/kept_colour.h"
#include "ticket/details.h"
#include "ticket/ticket.h"

namespace buttonhole::app
{

namespace
{

/// Only what one keep keeps in colour, small.
QImage thumbnailOf(const PhotoLevels &levels, Take take, uint64_t keepId)
{
    constexpr int kLongEdge = 536; // the bench at twice its pixels
    for (Keep &keep : take.keeps)
        keep.on = keep.id == keepId;
    const int level = levels.levelWithin(kLongEdge);
    const PictureRect area = pictureOf(levels, take).rect(level);
    QImage picture(area.width(), area.height(), QImage::Format_RGB32);
    const OutputColour output(Profile::srgb());
    const auto done = renderPicture(
        levels, take, View::CutOut, level, area, output,
        {RenderTarget::Layout::Bgrx8, picture.bits(), size_t(picture.bytesPerLine())});
    return done ? picture : QImage();
}

} // namespace

/// The ticket's swatches, found in the background: the colour each keep keeps, and the picture of
/// the selected one.
void MainWindow::refreshSwatches()
{
    if (m_swatchRunning) {
        m_swatchTimer.start();
        return;
    }
    if (!m_session.hasPhoto())
        return;
    m_swatchRunning = true;
    m_jobs.start(
        {},
        [levels = m_session.levels(), take = m_session.take(),
         selected = m_session.keep() ? m_session.keep()->id : 0](const Run &) {
            QMap<uint64_t, QColor> colours;
            for (const Keep &keep : take->keeps)
                if (const auto srgb = findKeptColour(*levels, keep))
                    colours[keep.id] = QColor((*srgb)[0], (*srgb)[1], (*srgb)[2]);
            return std::tuple(colours, selected,
                              colours.contains(selected) ? thumbnailOf(*levels, *take, selected)
                                                         : QImage());
        },
        [this](const auto &found) {
            const auto &[colours, selected, picture] = found;
            m_swatchRunning = false;
            if (m_session.keep() && m_session.keep()->id == selected)
                m_details->setThumbnail(picture);
            for (const Keep &keep : m_session.take()->keeps)
                m_ticket->setSwatch(keep.id, colours.value(keep.id));
        });
}

} // namespace buttonhole::app

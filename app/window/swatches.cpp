#include "window/swatches.h"

#include "render/kept_colour.h"
#include "render/render.h"
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

Swatches::Swatches(Session &session, Jobs &jobs, Ticket &ticket, Details &details, QObject *parent)
    : QObject(parent), m_session(session), m_jobs(jobs), m_ticket(ticket), m_details(details)
{
    constexpr int kRestMs = 150;
    m_rest.setSingleShot(true);
    m_rest.setInterval(kRestMs);
    connect(&m_rest, &QTimer::timeout, this, &Swatches::find);
    connect(&m_session, &Session::photoChanged, this, &Swatches::find);
    connect(&m_session, &Session::historyChanged, &m_rest, qOverload<>(&QTimer::start));
    connect(&m_session, &Session::lineChanged, &m_rest, qOverload<>(&QTimer::start));
}

void Swatches::find()
{
    if (m_isFinding) {
        m_rest.start();
        return;
    }
    if (!m_session.hasPhoto())
        return;
    m_isFinding = true;
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
            m_isFinding = false;
            if (m_session.keep() && m_session.keep()->id == selected)
                m_details.setThumbnail(picture);
            for (const Keep &keep : m_session.take()->keeps)
                m_ticket.setSwatch(keep.id, colours.value(keep.id));
        });
}

} // namespace buttonhole::app

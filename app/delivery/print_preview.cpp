#include "delivery/print_preview.h"

#include "style/theme.h"

#include <QPainter>

#include <algorithm>

namespace buttonhole::app
{

PrintPreview::PrintPreview(int count, QWidget *parent) : QWidget(parent), m_pictures(count)
{
    setObjectName(QStringLiteral("printPreview"));
    setAccessibleName(tr("The page as it is printed"));
    setMinimumSize(420, 480);
}

void PrintPreview::setPage(const PrintPage &page)
{
    m_page = page;
    showPage(m_shown);
}

void PrintPreview::setPicture(int index, const QImage &picture)
{
    m_pictures[index] = picture;
    update();
}

int PrintPreview::pages() const
{
    const int perPage = int(m_page.perPage());
    return std::max(1, (int(m_pictures.size()) + perPage - 1) / perPage);
}

void PrintPreview::showPage(int page)
{
    m_shown = std::clamp(page, 0, pages() - 1);
    update();
}

PrintPlace PrintPreview::placeOf(int index) const
{
    const QImage &picture = m_pictures[index];
    return picture.isNull() ? placeOn(m_page, size_t(index), 3, 2)
                            : placeOn(m_page, size_t(index), picture.width(), picture.height());
}

void PrintPreview::paintEvent(QPaintEvent *)
{
    constexpr double kAround = 12;
    QPainter painter(this);
    painter.setRenderHints(QPainter::Antialiasing | QPainter::SmoothPixmapTransform);
    const double scale = std::min((width() - 2 * kAround) / m_page.widthMm,
                                  (height() - 2 * kAround) / m_page.heightMm);
    const QRectF sheet((width() - scale * m_page.widthMm) / 2,
                       (height() - scale * m_page.heightMm) / 2, scale * m_page.widthMm,
                       scale * m_page.heightMm);
    painter.fillRect(sheet.translated(2, 2), QColor(0, 0, 0, 40));
    painter.fillRect(sheet, Qt::white);
    const double margin = scale * m_page.marginMm;
    painter.setPen(QPen(QColor(0, 0, 0, 60), 1, Qt::DotLine));
    painter.drawRect(sheet.adjusted(margin, margin, -margin, -margin));
    if (!checkPage(m_page))
        return;
    const int first = m_shown * int(m_page.perPage());
    const int end = std::min(int(m_pictures.size()), first + int(m_page.perPage()));
    for (int i = first; i < end; ++i) {
        const PrintPlace place = placeOf(i);
        const QRectF box(sheet.left() + scale * place.x, sheet.top() + scale * place.y,
                         scale * place.width, scale * place.height);
        if (m_pictures[i].isNull())
            painter.fillRect(box, QColor(0xDD, 0xDC, 0xD8));
        else
            painter.drawImage(box, m_pictures[i]);
    }
}

} // namespace buttonhole::app

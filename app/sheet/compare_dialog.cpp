#include "sheet/compare_dialog.h"

#include "export/small_picture.h"
#include "job/deliver.h"
#include "job/photo_job.h"
#include "sheet/quick_picture.h"
#include "style/theme.h"

#include <QFileInfo>
#include <QPainter>

#include <algorithm>

namespace buttonhole::app
{

namespace
{

constexpr int kHeadPx = 34;

/// In the look of its work, where it has one.
Result<QImage> lookOf(const std::string &path, int longEdge, const Run &run)
{
    const auto from = openTake(toOpen(path), {}, true, run);
    if (!from)
        return from.error();
    const auto picture = renderSmall(*from->opened.levels, *from->take, longEdge);
    return picture ? Result<QImage>(imageOf(*picture)) : picture.error();
}

} // namespace

CompareDialog::CompareDialog(Jobs &jobs, const QString &left, const QString &right, QWidget *parent)
    : QDialog(parent)
{
    setObjectName(QStringLiteral("compareDialog"));
    setWindowTitle(tr("Compare"));
    resize(parent ? parent->size() - QSize(60, 60) : QSize(1100, 640));
    load(m_sides[0], left, jobs);
    load(m_sides[1], right, jobs);
}

CompareDialog::~CompareDialog()
{
    for (Side &side : m_sides)
        side.stop.request_stop();
}

void CompareDialog::load(Side &side, const QString &path, Jobs &jobs)
{
    side.name = QFileInfo(path).fileName();
    const int longEdge = int(std::max(width() / 2, height()) * devicePixelRatioF());
    side.stop = jobs.start(
        {},
        [path = path.toStdString(), longEdge](const Run &run) {
            return lookOf(path, longEdge, run);
        },
        [this, &side, guard = QPointer<CompareDialog>(this)](const Result<QImage> &picture) {
            if (!guard)
                return;
            if (picture)
                side.picture = *picture;
            else
                side.problem = QString::fromStdString(sentence(picture.error()));
            update();
        });
}

void CompareDialog::paintEvent(QPaintEvent *)
{
    QPainter painter(this);
    painter.setRenderHint(QPainter::SmoothPixmapTransform);
    painter.fillRect(rect(), felt().felt);
    const int half = width() / 2;
    for (int i = 0; i < 2; ++i) {
        const Side &side = m_sides[i];
        const QRect room(i * half + 8, kHeadPx, half - 16, height() - kHeadPx - 8);
        painter.setPen(felt().ink);
        painter.drawText(
            QRect(room.left(), 0, room.width(), kHeadPx), Qt::AlignCenter,
            painter.fontMetrics().elidedText(side.name, Qt::ElideMiddle, room.width()));
        if (side.picture.isNull()) {
            painter.setPen(felt().softInk);
            painter.drawText(room, Qt::AlignCenter | Qt::TextWordWrap,
                             side.problem.isEmpty() ? tr("Opening…") : side.problem);
            continue;
        }
        const QSize size = side.picture.size().scaled(room.size(), Qt::KeepAspectRatio);
        painter.drawImage(QRect(room.center() - QPoint(size.width() / 2, size.height() / 2), size),
                          side.picture);
    }
}

} // namespace buttonhole::app

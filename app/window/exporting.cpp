#include "window/exporting.h"

#include "controls/file_dialog.h"
#include "window/export_dialog.h"

#include <QFileInfo>
#include <QLocale>

namespace buttonhole::app
{

void Exporting::ask()
{
    auto *dialog = new ExportDialog(session(), jobs(), settings().exporting, window());
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    connect(dialog, &ExportDialog::exportAsked, this, &Exporting::chooseFile);
    dialog->open();
}

double Exporting::scale() const
{
    Take own = *session().take();
    const PictureRect picture = session().picture().rect();
    const int asked = exportedSize(own, picture, settings().exporting.longEdgePx).first;
    own.geometry.deliverWidth = own.geometry.deliverHeight = 0;
    return double(asked) / exportedSize(own, picture).first;
}

void Exporting::chooseFile(const ExportSettings &settings)
{
    this->settings().exporting = settings;
    const QString suffix = QString::fromStdString(endingFor(settings.format)).mid(1);
    auto *dialog =
        newFileDialog(window(), tr("Export"), folderForDialogs(), QStringLiteral("*.") + suffix);
    dialog->setAcceptMode(QFileDialog::AcceptSave);
    dialog->setDefaultSuffix(suffix);
    dialog->selectFile(QFileInfo(session().photoPath()).completeBaseName() + tr("-keep") +
                       QStringLiteral(".") + suffix);
    connect(dialog, &QFileDialog::fileSelected, this, [this, settings](const QString &chosen) {
        const QString path =
            QString::fromStdString(withEnding(chosen.toStdString(), settings.format));
        unlessInTheWay(chosen, path, [this, path, settings] { exportTo(path, settings); });
    });
    dialog->open();
}

void Exporting::exportTo(const QString &path, const ExportSettings &settings)
{
    jobs().start(
        tr("Exporting %1…").arg(QFileInfo(path).fileName()),
        [levels = session().levels(), take = session().take(), settings, file = path.toStdString()](
            const Run &run) { return exportPicture(*levels, *take, settings, file, run); },
        [this, path](const Result<ExportedPicture> &picture) {
            if (picture)
                Q_EMIT said(tr("Exported %1, %2 × %3 px, %4")
                                .arg(QFileInfo(path).fileName())
                                .arg(picture->width)
                                .arg(picture->height)
                                .arg(QLocale().formattedDataSize(qint64(picture->bytes), 1,
                                                                 QLocale::DataSizeSIFormat)));
            else if (picture.error().kind != ErrorKind::Cancelled)
                Q_EMIT failed(picture.error());
            Q_EMIT exported(picture.has_value());
        });
}

} // namespace buttonhole::app

#include "window/exporting.h"

#include "controls/file_dialog.h"
#include "delivery/export_dialog.h"
#include "io/file.h"
#include "job/deliver.h"

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
    const ExportSettings asFor = settingsFor(*session().levels(), own, settings().exporting);
    const int asked = exportedSize(own, picture, asFor.longEdgePx).first;
    own.geometry.deliverWidth = own.geometry.deliverHeight = 0;
    return double(asked) / exportedSize(own, picture).first;
}

void Exporting::chooseFile(const Delivery &delivery, bool ofAllTakes)
{
    settings().exporting = delivery;
    const PictureFormat format = delivery.picture.format;
    const QString suffix = QString::fromStdString(endingFor(format)).mid(1);
    auto *dialog =
        newFileDialog(window(), tr("Export"), folderForDialogs(), QStringLiteral("*.") + suffix);
    dialog->setAcceptMode(QFileDialog::AcceptSave);
    dialog->setDefaultSuffix(suffix);
    dialog->selectFile(QFileInfo(session().photoPath()).completeBaseName() + tr("-keep") +
                       QStringLiteral(".") + suffix);
    if (ofAllTakes) // no file has that name
        dialog->setOption(QFileDialog::DontConfirmOverwrite);
    connect(
        dialog, &QFileDialog::fileSelected, this,
        [this, delivery, format, ofAllTakes](const QString &chosen) {
            const QString path = QString::fromStdString(withEnding(chosen.toStdString(), format));
            if (ofAllTakes)
                exportTakes(path, delivery);
            else
                unlessInTheWay(chosen, path, [this, path, delivery] { exportTo(path, delivery); });
        });
    dialog->open();
}

void Exporting::exportTo(const QString &path, const Delivery &delivery)
{
    ++m_inHand;
    jobs().start(
        tr("Exporting %1…").arg(QFileInfo(path).fileName()),
        [levels = session().levels(), take = session().take(), delivery, file = path.toStdString()](
            const Run &run) { return deliver(*levels, *take, {}, false, delivery, file, run); },
        [this, path](const Result<Delivered> &picture) {
            --m_inHand;
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

void Exporting::exportTakes(const QString &path, const Delivery &delivery)
{
    ++m_inHand;
    jobs().start(
        tr("Exporting all takes…"),
        [levels = session().levels(), takes = session().work().takes, delivery,
         file = path.toStdString()](const Run &run) -> Result<std::vector<std::string>> {
            std::vector<std::string> out;
            const std::string ending = endingFor(delivery.picture.format);
            const std::string begin = file.substr(0, file.size() - endingOf(file).size());
            for (size_t i = 0; i < takes.size(); ++i) {
                Run part = run;
                part.progress = [&, i](float done) {
                    run.report((float(i) + done) / float(takes.size()));
                };
                const std::string to =
                    numberedPath(begin + "-" + fileNameFor(takes[i]->name, {}) + ending,
                                 [](const std::string &each) { return stampOf(each).exists(); });
                if (auto done = deliver(*levels, *takes[i], {}, false, delivery, to, part); !done)
                    return done.error();
                out.push_back(to);
            }
            return out;
        },
        [this](const Result<std::vector<std::string>> &written) {
            --m_inHand;
            if (written)
                Q_EMIT said(
                    tr("Exported %1 takes, %2 to %3")
                        .arg(written->size())
                        .arg(QFileInfo(QString::fromStdString(written->front())).fileName(),
                             QFileInfo(QString::fromStdString(written->back())).fileName()));
            else if (written.error().kind != ErrorKind::Cancelled)
                Q_EMIT failed(written.error());
            Q_EMIT exported(written.has_value());
        });
}

} // namespace buttonhole::app

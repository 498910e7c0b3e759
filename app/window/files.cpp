// The main window's ways in and out of files: open, drop, export; and what it tells of them.
#include "window/main_window.h"

#include "check/check_column.h"
#include "document/json_text.h"
#include "ticket/ticket.h"
#include "window/answer_button.h"
#include "window/export_dialog.h"
#include "window/file_dialog.h"
#include "window/status_row.h"

#include <QLocale>
#include <QMessageBox>
#include <QMimeData>
#include <QStandardPaths>

namespace buttonhole::app
{

QString MainWindow::folderForDialogs() const
{
    return m_settings.lastFolder.isEmpty()
               ? QStandardPaths::writableLocation(QStandardPaths::PicturesLocation)
               : m_settings.lastFolder;
}

void MainWindow::chooseAndOpen()
{
    auto *dialog =
        newFileDialog(this, tr("Open"), folderForDialogs(),
                      tr("Photos and work (%1 *.buttonhole);;All files (*)").arg(photoPatterns()));
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    dialog->setFileMode(QFileDialog::ExistingFiles);
    connect(dialog, &QFileDialog::filesSelected, this, &MainWindow::openJob);
    dialog->open();
}

void MainWindow::chooseAndExport()
{
    auto *dialog = new ExportDialog(m_session, m_jobs, m_settings.exporting, this);
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    connect(dialog, &ExportDialog::exportAsked, this, &MainWindow::chooseExportFile);
    dialog->open();
}

void MainWindow::chooseExportFile(const ExportSettings &settings)
{
    m_settings.exporting = settings;
    const QString suffix = QString::fromStdString(endingFor(settings.format)).mid(1);
    auto *dialog =
        newFileDialog(this, tr("Export"), folderForDialogs(), QStringLiteral("*.") + suffix);
    dialog->setAcceptMode(QFileDialog::AcceptSave);
    dialog->setDefaultSuffix(suffix);
    dialog->selectFile(QFileInfo(m_session.photoPath()).completeBaseName() + tr("-keep") +
                       QStringLiteral(".") + suffix);
    connect(dialog, &QFileDialog::fileSelected, this, [this, settings](const QString &chosen) {
        const QString path =
            QString::fromStdString(withEnding(chosen.toStdString(), settings.format));
        unlessInTheWay(chosen, path, [this, path, settings] { exportTo(path, settings); });
    });
    dialog->open();
}

void MainWindow::exportTo(const QString &path, const ExportSettings &settings)
{
    m_jobs.start(
        tr("Exporting %1…").arg(QFileInfo(path).fileName()),
        [levels = m_session.levels(), take = m_session.take(), settings, file = path.toStdString()](
            const Run &run) { return exportPicture(*levels, *take, settings, file, run); },
        [this, path](const Result<ExportedPicture> &picture) {
            if (picture)
                m_status->say(tr("Exported %1, %2 × %3 px, %4")
                                  .arg(QFileInfo(path).fileName())
                                  .arg(picture->width)
                                  .arg(picture->height)
                                  .arg(locale().formattedDataSize(qint64(picture->bytes), 1,
                                                                  QLocale::DataSizeSIFormat)));
            else if (picture.error().kind != ErrorKind::Cancelled)
                showError(picture.error());
            Q_EMIT exported(picture.has_value());
        });
}

void MainWindow::dragEnterEvent(QDragEnterEvent *event)
{
    for (const QUrl &url : event->mimeData()->urls())
        if (url.isLocalFile()) {
            event->acceptProposedAction();
            return;
        }
}

void MainWindow::dropEvent(QDropEvent *event)
{
    QStringList paths;
    for (const QUrl &url : event->mimeData()->urls())
        if (url.isLocalFile())
            paths.append(url.toLocalFile());
    if (paths.isEmpty())
        return;
    event->acceptProposedAction();
    openJob(paths);
}

void MainWindow::showError(const Error &error)
{
    auto *box = newBox(this, "error", QString::fromStdString(sentence(error)));
    box->addButton(tr("All right"), QMessageBox::AcceptRole);
    box->open();
}

void MainWindow::showInfo()
{
    const Photo &photo = m_session.levels()->photo();
    QString text =
        tr("<b>%1</b><br>%2 × %3 px, %4, %5 bits per channel, %6<br>Profile: %7")
            .arg(QFileInfo(m_session.photoPath()).fileName().toHtmlEscaped())
            .arg(photo.width)
            .arg(photo.height)
            .arg(QString::fromStdString(photo.format))
            .arg(photo.sourceBits)
            .arg(locale().formattedDataSize(qint64(photo.fileBytes), 1, QLocale::DataSizeSIFormat),
                 QString::fromStdString(photo.profile.description()).toHtmlEscaped());
    for (const auto &[name, value] : photo.metadata.summary())
        text +=
            QStringLiteral("<br>%1: %2")
                .arg(QString::fromStdString(name), QString::fromStdString(value).toHtmlEscaped());
    for (const std::string &note : photo.notes)
        text += QStringLiteral("<p>%1</p>").arg(QString::fromStdString(note).toHtmlEscaped());
    auto *box = new QMessageBox(this);
    box->setTextFormat(Qt::RichText);
    box->setAttribute(Qt::WA_DeleteOnClose);
    box->setText(text);
    box->addButton(tr("Close"), QMessageBox::AcceptRole);
    box->open();
}

void MainWindow::showAbout()
{
    auto *box = new QMessageBox(this);
    box->setAttribute(Qt::WA_DeleteOnClose);
    box->setIconPixmap(QPixmap(QStringLiteral(":/buttonhole.svg")));
    box->setText(tr("<b>Buttonhole %1</b><br>A photograph in black and white, with what matters "
                    "kept in colour.")
                     .arg(QStringLiteral(BUTTONHOLE_VERSION)));
    box->addButton(tr("Close"), QMessageBox::AcceptRole);
    box->open();
}

std::string MainWindow::windowJson() const
{
    const ViewTransform &view = m_canvas->transform();
    const Seen &seen = m_canvas->seen();
    const TicketLine &line = m_session.line();
    return nlohmann::json{{"fitted", view.isFitted()},
                          {"scale", view.scale()},
                          {"centre", {view.centre().x(), view.centre().y()}},
                          {"view", int(seen.view)},
                          {"split", seen.split},
                          {"splitAt", seen.splitAt},
                          {"line", {int(line.kind), line.keepId, line.stepId}}}
        .dump();
}

void MainWindow::restoreWindow(const std::string &json)
{
    // A window state that does not fit is no reason to refuse the work.
    const auto in = nlohmann::json::parse(json, nullptr, false);
    if (!in.is_object())
        return;
    try {
        Seen seen;
        seen.view = View(std::clamp<int64_t>(wholeFrom(in, "view", 0), 0, int(View::Clipped)));
        seen.split = in.value("split", false);
        seen.splitAt = std::clamp(in.value("splitAt", 0.5), 0.0, 1.0);
        m_canvas->setSeen(seen);
        if (!in.value("fitted", true)) {
            const auto &centre = in.at("centre");
            m_canvas->restoreView(in.at("scale").get<double>(),
                                  {centre.at(0).get<double>(), centre.at(1).get<double>()});
        }
        const auto &line = in.at("line");
        const auto kind =
            std::clamp<int64_t>(wholeFrom(line.at(0)), 0, int64_t(TicketLine::Kind::Adjustment));
        m_session.select({TicketLine::Kind(kind), uint64_t(wholeFrom(line.at(1))),
                          uint64_t(wholeFrom(line.at(2)))});
    } catch (const nlohmann::json::exception &) {
        return;
    }
}

} // namespace buttonhole::app

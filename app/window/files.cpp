// The main window's ways in and out of files: open, save, export, and what is asked on the way.
#include "window/main_window.h"

#include "check/check_column.h"
#include "ticket/ticket.h"
#include "window/answer_button.h"
#include "window/export_dialog.h"
#include "window/status_row.h"

#include <QCloseEvent>
#include <QFileDialog>
#include <QLabel>
#include <QLocale>
#include <QMessageBox>
#include <QMimeData>
#include <QScrollArea>
#include <QStandardPaths>
#include <QVBoxLayout>

#include <nlohmann/json.hpp>

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
    auto *dialog = new QFileDialog(
        this, tr("Open"), folderForDialogs(),
        tr("Photos and work (%1 *.buttonhole);;All files (*)").arg(photoPatterns()));
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    dialog->setFileMode(QFileDialog::ExistingFiles);
    connect(dialog, &QFileDialog::filesSelected, this, &MainWindow::openJob);
    dialog->open();
}

void MainWindow::save()
{
    if (m_session.containerPath().isEmpty())
        chooseAndSave();
    else
        saveTo(m_session.containerPath());
}

void MainWindow::chooseAndSave()
{
    auto *dialog =
        new QFileDialog(this, tr("Save as"), folderForDialogs(), tr("Work (*.buttonhole)"));
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    dialog->setAcceptMode(QFileDialog::AcceptSave);
    dialog->setDefaultSuffix(QStringLiteral("buttonhole"));
    dialog->selectFile(QFileInfo(m_session.photoPath()).completeBaseName() +
                       QStringLiteral(".buttonhole"));
    connect(dialog, &QFileDialog::fileSelected, this, &MainWindow::saveTo);
    connect(dialog, &QFileDialog::rejected, this, [this] { m_afterSave = nullptr; });
    dialog->open();
}

void MainWindow::saveTo(const QString &path)
{
    if (!m_session.hasPhoto())
        return;
    m_session.setWindowJson(windowJson());
    SaveOrder order{path, m_session.snapshotForSaving(), m_session.levels(),
                    m_session.packsPhoto()};
    if (m_saving) // one after the other; only the last one asked for is wanted
        m_nextSave = std::move(order);
    else
        startSaving(std::move(order));
}

void MainWindow::startSaving(SaveOrder order)
{
    m_saving = true;
    const QString path = order.path;
    m_jobs.start(
        tr("Saving %1…").arg(QFileInfo(path).fileName()),
        [order = std::move(order)](const Run &run) mutable -> Result<Session::Snapshot> {
            Container &container = order.snapshot.container;
            if (auto preview = makePreviewJpeg(*order.levels, container.work.take(), 1024))
                container.previewJpeg = std::move(*preview);
            if (const auto written = saveContainer(container, order.path.toStdString(),
                                                   order.levels->photo().path, {order.packs}, run);
                !written)
                return written.error();
            return std::move(order.snapshot);
        },
        [this, path](const Result<Session::Snapshot> &written) {
            m_saving = false;
            if (written) {
                m_session.noteSaved(path, *written);
                m_settings.noteRecent(QFileInfo(path).absoluteFilePath());
                refreshRecent();
                m_status->say(tr("Saved %1").arg(QFileInfo(path).fileName()));
            } else if (written.error().kind != ErrorKind::Cancelled) {
                showError(written.error());
            }
            Q_EMIT saved(written.has_value());
            if (auto next = std::exchange(m_nextSave, std::nullopt)) {
                startSaving(std::move(*next));
                return;
            }
            if (const auto then = std::exchange(m_afterSave, nullptr);
                then && written && !m_session.isUnsaved())
                then();
        });
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
    constexpr const char *kSuffixes[] = {"jpg", "png", "tif"};
    const QString suffix = QLatin1String(kSuffixes[int(settings.format)]);
    auto *dialog =
        new QFileDialog(this, tr("Export"), folderForDialogs(), QStringLiteral("*.") + suffix);
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    dialog->setAcceptMode(QFileDialog::AcceptSave);
    dialog->setDefaultSuffix(suffix);
    dialog->selectFile(QFileInfo(m_session.photoPath()).completeBaseName() + tr("-keep") +
                       QStringLiteral(".") + suffix);
    connect(dialog, &QFileDialog::fileSelected, this,
            [this, settings](const QString &path) { exportTo(path, settings); });
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

void MainWindow::afterUnsaved(const std::function<void()> &then)
{
    if (!m_session.isUnsaved()) {
        then();
        return;
    }
    auto *box = new QMessageBox(this);
    box->setObjectName(QStringLiteral("unsaved"));
    box->setAttribute(Qt::WA_DeleteOnClose);
    box->setText(tr("The work on %1 is not saved.")
                     .arg(QFileInfo(m_session.containerPath().isEmpty() ? m_session.photoPath()
                                                                        : m_session.containerPath())
                              .fileName()));
    auto *saves = addAnswer(*box, tr("Save it"), QMessageBox::AcceptRole, "save");
    auto *throws = addAnswer(*box, tr("Throw it away"), QMessageBox::DestructiveRole, "throw");
    auto *stays = addAnswer(*box, tr("Go on working"), QMessageBox::RejectRole, "stay");
    box->setDefaultButton(saves);
    box->setEscapeButton(stays);
    connect(saves, &QPushButton::clicked, this, [this, then] {
        m_afterSave = then;
        save();
    });
    connect(throws, &QPushButton::clicked, this, then);
    box->open();
}

void MainWindow::closeEvent(QCloseEvent *event)
{
    if (m_closeAgreed || (!m_session.isUnsaved() && !m_saving)) {
        m_jobs.stopAll();
        event->accept();
        return;
    }
    event->ignore();
    const auto leave = [this] {
        m_closeAgreed = true;
        close();
    };
    if (m_saving) // close as soon as it is on the disk
        m_afterSave = leave;
    else
        afterUnsaved(leave);
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
    auto *box = new QMessageBox(this);
    box->setObjectName(QStringLiteral("error"));
    box->setAttribute(Qt::WA_DeleteOnClose);
    box->setText(QString::fromStdString(sentence(error)));
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
    box->setAttribute(Qt::WA_DeleteOnClose);
    box->setText(text);
    box->addButton(tr("Close"), QMessageBox::AcceptRole);
    box->open();
}

void MainWindow::showKeys()
{
    QString text = QStringLiteral("<table cellspacing='0' cellpadding='3'>");
    const std::pair<QString, QString> held[] = {
        {tr("C (held)"), tr("Original")},
        {tr("Space (held) or middle button"), tr("Move the photo")},
        {tr("Ctrl while painting"), tr("The opposite of add or subtract")},
        {tr("Shift+click"), tr("Straight stroke from the last point")},
        {tr("Esc or undo, while painting"), tr("Drop the unfinished stroke")}};
    const auto row = [&](const QString &keys, const QString &does) {
        text += QStringLiteral("<tr><td><b>%1</b></td><td>%2</td></tr>")
                    .arg(keys.toHtmlEscaped(), does.toHtmlEscaped());
    };
    for (const auto &[keys, does] : held)
        row(keys, does);
    for (const ActionRow &each : actionRows())
        if (each.keys[0] != 0)
            row(QKeySequence::listToString(m_actions[each.id]->shortcuts(),
                                           QKeySequence::NativeText),
                m_actions[each.id]->text());
    text += QStringLiteral("</table>");
    auto *dialog = new QDialog(this);
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    dialog->setWindowTitle(tr("Keys"));
    auto *layout = new QVBoxLayout(dialog);
    auto *label = new QLabel(text);
    auto *scroll = new QScrollArea(dialog);
    scroll->setWidget(label);
    layout->addWidget(scroll);
    dialog->resize(460, 600);
    dialog->open();
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
    const Look &look = m_canvas->look();
    const TicketLine &line = m_session.line();
    return nlohmann::json{{"fitted", view.isFitted()},
                          {"scale", view.scale()},
                          {"centre", {view.centre().x(), view.centre().y()}},
                          {"view", int(look.view)},
                          {"split", look.split},
                          {"splitAt", look.splitAt},
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
        Look look;
        look.view = View(std::clamp(in.value("view", 0), 0, int(View::Clipped)));
        look.split = in.value("split", false);
        look.splitAt = std::clamp(in.value("splitAt", 0.5), 0.0, 1.0);
        m_canvas->setLook(look);
        if (!in.value("fitted", true)) {
            const auto &centre = in.at("centre");
            m_canvas->restoreView(in.at("scale").get<double>(),
                                  {centre.at(0).get<double>(), centre.at(1).get<double>()});
        }
        const auto &line = in.at("line");
        m_session.select({TicketLine::Kind(line.at(0).get<int>()), line.at(1).get<uint64_t>(),
                          line.at(2).get<uint64_t>()});
    } catch (const nlohmann::json::exception &) {
        return;
    }
}

} // namespace buttonhole::app

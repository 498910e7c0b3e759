// The main window's ways in and out of files: open, drop, export; and what it tells of them.
#include "window/main_window.h"

#include "check/check_column.h"
#include "ticket/ticket.h"
#include "window/answer_button.h"
#include "window/export_dialog.h"
#include "window/file_dialog.h"
#include "window/status_row.h"

#include <QDialogButtonBox>
#include <QLabel>
#include <QLocale>
#include <QMessageBox>
#include <QMimeData>
#include <QPushButton>
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
    auto *box = new QMessageBox(this);
    box->setObjectName(QStringLiteral("error"));
    box->setAttribute(Qt::WA_DeleteOnClose);
    box->setTextFormat(Qt::PlainText);
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
    box->setTextFormat(Qt::RichText);
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
    showPage("keys", tr("Keys"), text);
}

void MainWindow::showGuide()
{
    const QString text = tr(
        "<h3>A first keep</h3>"
        "<p>Open a photo: it is grey at once, and one empty keep waits. What you keep comes back "
        "in colour.</p>"
        "<p><b>One thing</b>: press 8 and click it, or hold Shift and drag a box round it. "
        "Ctrl+click what does not belong.<br>"
        "<b>Everything of one colour</b>: press 5 and click it; again where shades are missing."
        "<br><b>By hand</b>: press 1 and paint; Ctrl takes back, E holds to edges.</p>"
        "<p>Ways combine: each move is a line in the ticket, and can be changed for ever.</p>"
        "<h3>Look closely</h3>"
        "<p>The wheel goes closer, Space moves the photo, C held shows the original, V goes "
        "through the mask views. The pick glass shows the pixels under the pointer, or the "
        "keep's edge while you are at the sliders.</p>"
        "<h3>Edges</h3>"
        "<p>Select the keep. For hair, wool or blur tick <i>Soft edge by sharpness</i>, or set "
        "how far the soft edge reaches. Spill takes out the background's colour.</p>"
        "<h3>The grey</h3>"
        "<p>Select Grey and drag up or down on the photo: that hue gets lighter or darker. Auto "
        "finds a mix, the looks are starting points. A tool takes you back to the keep.</p>"
        "<h3>Done</h3>"
        "<p>Ctrl+E exports the picture, Ctrl+S keeps the work to go on another day. The photo's "
        "own file is never written to.</p>");
    showPage("guide", tr("Guide"), text);
}

/// A page to read beside the work; it closes by its button, by Escape, or when asked for again.
void MainWindow::showPage(const char *name, const QString &title, const QString &text)
{
    if (auto *open = findChild<QDialog *>(QLatin1String(name))) {
        open->close();
        return;
    }
    auto *dialog = new QDialog(this);
    dialog->setObjectName(QLatin1String(name));
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    dialog->setWindowTitle(title);
    auto *layout = new QVBoxLayout(dialog);
    layout->setContentsMargins(20, 16, 20, 16);
    auto *label = new QLabel(text);
    label->setWordWrap(true);
    label->setAlignment(Qt::AlignTop);
    auto *scroll = new QScrollArea(dialog);
    scroll->setWidgetResizable(true);
    scroll->setWidget(label);
    layout->addWidget(scroll);
    auto *buttons = new QDialogButtonBox(dialog);
    auto *close = buttons->addButton(tr("Close"), QDialogButtonBox::RejectRole);
    close->setDefault(true);
    connect(buttons, &QDialogButtonBox::rejected, dialog, &QDialog::close);
    layout->addWidget(buttons);
    dialog->resize(500, 600);
    dialog->show();
    dialog->activateWindow();
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
        const int kind = std::clamp(line.at(0).get<int>(), 0, int(TicketLine::Kind::Step));
        m_session.select(
            {TicketLine::Kind(kind), line.at(1).get<uint64_t>(), line.at(2).get<uint64_t>()});
    } catch (const nlohmann::json::exception &) {
        return;
    }
}

} // namespace buttonhole::app

// The main window's pages to read: keys, guide, the photo's facts.
#include "window/main_window.h"

#include "window/keys_page.h"

#include <QDialogButtonBox>
#include <QFileInfo>
#include <QLabel>
#include <QLocale>
#include <QMessageBox>
#include <QPushButton>
#include <QScrollArea>
#include <QVBoxLayout>

namespace buttonhole::app
{

void MainWindow::showKeys()
{
    if (auto *open = findChild<KeysPage *>()) {
        open->close();
        return;
    }
    auto *page = new KeysPage(m_actions, this);
    page->show();
    page->activateWindow();
}

void MainWindow::showGuide()
{
    const QString text =
        tr("<h3>A first keep</h3>"
           "<p>Open a photo: it is grey at once, and one empty keep waits. What you keep comes "
           "back "
           "in colour.</p>"
           "<p><b>One thing</b>: press %1 and click it, or hold Shift and drag a box round it. "
           "Ctrl+click what does not belong.<br>"
           "<b>Everything of one colour</b>: press %2 and click it; again where shades are missing."
           "<br><b>By hand</b>: press %3 and paint; Ctrl takes back, %4 holds to edges.</p>"
           "<p>Ways combine: each move is a line in the ticket, and can be changed for ever.</p>"
           "<h3>Look closely</h3>"
           "<p>The wheel goes closer, Space moves the photo, C held shows the original, %5 goes "
           "through the mask views. The pick glass shows the pixels under the pointer, or the "
           "keep's edge while you are at the sliders.</p>"
           "<h3>Edges</h3>"
           "<p>Select the keep. For hair, wool or blur tick <i>Soft edge from the photo's own "
           "blur</i>, or set "
           "how far the soft edge reaches. Spill takes out the background's colour.</p>"
           "<h3>The grey</h3>"
           "<p>Select Grey and drag up or down on the photo: that hue gets lighter or darker. Auto "
           "finds a mix, the looks are starting points. A tool takes you back to the keep.</p>"
           "<h3>Before and after</h3>"
           "<p>Prepare crops, straightens, sets the light, mends dust and takes things out. "
           "+ Local treats a part otherwise: darker, calmer, foggy; + Finish the whole: vignette, "
           "grain, a frame.</p>"
           "<h3>Done</h3>"
           "<p>%6 exports the picture, %7 keeps the work to go on another day. The photo's "
           "own file is never written to.</p>")
            .arg(keyOfTool("subject"), keyOfTool("colour-window"), keyOfTool("brush"),
                 keyOf("hold"), keyOf("next-view"), keyOf("export"), keyOf("save"));
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

} // namespace buttonhole::app

#include "delivery/export_dialog.h"

#include "delivery/picture_form.h"
#include "job/deliver.h"

#include <QCheckBox>
#include <QDialogButtonBox>
#include <QFormLayout>
#include <QLabel>
#include <QPushButton>
#include <QTimer>
#include <QVBoxLayout>

namespace buttonhole::app
{

ExportDialog::ExportDialog(const Session &session, Jobs &jobs, const Delivery &delivery,
                           QWidget *parent)
    : QDialog(parent), m_session(session), m_jobs(jobs), m_picture(new PictureForm(this)),
      m_allTakes(new QCheckBox(this)), m_size(new QLabel(this))
{
    setWindowTitle(tr("Export"));
    setMinimumWidth(440);
    auto *layout = new QVBoxLayout(this);
    layout->setContentsMargins(20, 16, 20, 16);
    layout->setSpacing(12);
    m_picture->setOwnProfile(
        QString::fromStdString(session.levels()->photo().profile.description()));
    m_picture->use(delivery);
    const size_t takes = session.work().takes.size();
    m_allTakes->setText(tr("All %1 takes, each in a file of its own").arg(takes));
    m_allTakes->setObjectName(QStringLiteral("allTakes"));
    m_allTakes->setVisible(takes > 1);
    m_picture->form().addRow(QString(), m_allTakes);
    layout->addWidget(m_picture);
    m_size->setTextFormat(Qt::PlainText);
    m_size->setAccessibleName(tr("Size of the picture"));
    layout->addWidget(m_size);

    auto *buttons = new QDialogButtonBox(this);
    auto *go = buttons->addButton(tr("Export…"), QDialogButtonBox::AcceptRole);
    go->setDefault(true);
    buttons->addButton(tr("Not now"), QDialogButtonBox::RejectRole);
    layout->addWidget(buttons);
    connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
    connect(buttons, &QDialogButtonBox::accepted, this, [this] {
        Q_EMIT exportAsked(this->delivery(), isOfAllTakes());
        accept();
    });
    connect(m_picture, &PictureForm::changed, this, &ExportDialog::measureSoon);
    measureSoon();
}

ExportDialog::~ExportDialog()
{
    m_measuring.request_stop();
}

Delivery ExportDialog::delivery() const
{
    Delivery out;
    m_picture->putInto(out);
    return out;
}

bool ExportDialog::isOfAllTakes() const
{
    return m_allTakes->isChecked();
}

void ExportDialog::measureSoon()
{
    m_measuring.request_stop();
    const int number = ++m_measureNumber;
    m_size->setText(tr("Finding its size…"));
    QTimer::singleShot(250, this, [this, number] {
        if (number == m_measureNumber)
            measure();
    });
}

void ExportDialog::measure()
{
    const int number = m_measureNumber;
    m_measuring = m_jobs.start(
        {},
        [levels = m_session.levels(), take = m_session.take(),
         delivery = delivery()](const Run &run) {
            return measureExport(*levels, *take, settingsFor(*levels, *take, delivery), run);
        },
        [this, guard = QPointer<ExportDialog>(this),
         number](const Result<ExportedPicture> &picture) {
            if (!guard || number != m_measureNumber)
                return;
            if (!picture) {
                m_size->setText(QString::fromStdString(sentence(picture.error())));
                return;
            }
            m_size->setText(tr("%1 × %2 px, about %3")
                                .arg(picture->width)
                                .arg(picture->height)
                                .arg(locale().formattedDataSize(qint64(picture->bytes), 1,
                                                                QLocale::DataSizeSIFormat)));
        });
}

} // namespace buttonhole::app

#include "delivery/delivery_dialog.h"

#include "controls/file_dialog.h"
#include "delivery/picture_form.h"

#include <QComboBox>
#include <QDialogButtonBox>
#include <QFileInfo>
#include <QFormLayout>
#include <QInputDialog>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QVBoxLayout>

namespace buttonhole::app
{

DeliveryDialog::DeliveryDialog(const QStringList &photos, const Delivery &delivery, QWidget *parent)
    : QDialog(parent), m_photos(photos), m_name(new QLineEdit(this)), m_example(new QLabel(this)),
      m_where(new QComboBox(this)), m_folder(new QLineEdit(this)), m_ifThere(new QComboBox(this)),
      m_picture(new PictureForm(this))
{
    setObjectName(QStringLiteral("deliveryDialog"));
    setWindowTitle(photos.size() == 1 ? tr("Deliver %1").arg(QFileInfo(photos.first()).fileName())
                                      : tr("Deliver %1 photos").arg(photos.size()));
    setMinimumWidth(460);
    auto *layout = new QVBoxLayout(this);
    layout->setContentsMargins(20, 16, 20, 16);
    layout->setSpacing(10);
    addFile(m_picture->form());
    layout->addWidget(m_picture);
    auto *buttons = new QDialogButtonBox(this);
    m_go = buttons->addButton(tr("Deliver"), QDialogButtonBox::AcceptRole);
    m_go->setDefault(true);
    buttons->addButton(tr("Not now"), QDialogButtonBox::RejectRole);
    auto *kept = buttons->addButton(tr("Kept ones"), QDialogButtonBox::ActionRole);
    kept->setObjectName(QStringLiteral("keptDeliveries"));
    kept->setAutoDefault(false);
    auto *keep = buttons->addButton(tr("Keep these…"), QDialogButtonBox::ActionRole);
    keep->setAutoDefault(false);
    layout->addWidget(buttons);
    connect(buttons, &QDialogButtonBox::accepted, this, &QDialog::accept);
    connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
    connect(kept, &QPushButton::clicked, this,
            [this, kept] { Q_EMIT keptAsked(kept->mapToGlobal(QPoint(0, kept->height()))); });
    connect(keep, &QPushButton::clicked, this, [this] {
        auto *ask = new QInputDialog(this);
        ask->setAttribute(Qt::WA_DeleteOnClose);
        ask->setWindowTitle(tr("Keep how pictures leave"));
        ask->setLabelText(tr("Name"));
        connect(ask, &QInputDialog::textValueSelected, this, [this](const QString &name) {
            if (!name.trimmed().isEmpty())
                Q_EMIT keepAsked(name.trimmed(), this->delivery());
        });
        ask->open();
    });
    useDelivery(delivery);
}

void DeliveryDialog::addFile(QFormLayout &form)
{
    m_name->setObjectName(QStringLiteral("deliveryName"));
    m_name->setMaxLength(int(Delivery::kMostName) / 2);
    m_name->setToolTip(tr("{name}, {take}, {taken}, {date} and {number} are filled in"));
    int row = 0; // before what the picture is to be
    form.insertRow(row++, tr("Name"), m_name);
    m_example->setObjectName(QStringLiteral("deliveryExample"));
    m_example->setTextFormat(Qt::PlainText);
    form.insertRow(row++, QString(), m_example);
    m_where->addItems({tr("Beside the photo"), tr("In a folder beside it"), tr("In one folder")});
    m_where->setObjectName(QStringLiteral("deliveryWhere"));
    m_folder->setObjectName(QStringLiteral("deliveryFolder"));
    m_folder->setAccessibleName(tr("Folder"));
    form.insertRow(row++, tr("Where"), m_where);
    form.insertRow(row++, QString(), m_folder);
    m_ifThere->addItems({tr("Number the new one"), tr("Replace it"), tr("Skip it")});
    form.insertRow(row++, tr("If it is there"), m_ifThere);
    connect(m_picture, &PictureForm::changed, this, &DeliveryDialog::refresh);
    connect(m_name, &QLineEdit::textChanged, this, &DeliveryDialog::refresh);
    connect(m_folder, &QLineEdit::textChanged, this, &DeliveryDialog::refresh);
    connect(m_where, &QComboBox::currentIndexChanged, this, &DeliveryDialog::refresh);
    connect(m_where, &QComboBox::activated, this, [this](int index) {
        if (index == int(Delivery::Where::Folder))
            chooseFolder();
    });
}

void DeliveryDialog::chooseFolder()
{
    auto *dialog = newFileDialog(this, tr("Where pictures go"), m_folder->text(), {});
    dialog->setFileMode(QFileDialog::Directory);
    connect(dialog, &QFileDialog::fileSelected, m_folder, &QLineEdit::setText);
    dialog->open();
}

void DeliveryDialog::useDelivery(const Delivery &delivery)
{
    m_picture->use(delivery);
    m_name->setText(QString::fromStdString(delivery.name));
    m_where->setCurrentIndex(int(delivery.where));
    m_folder->setText(QString::fromStdString(delivery.folder));
    m_ifThere->setCurrentIndex(int(delivery.ifThere));
    refresh();
}

Delivery DeliveryDialog::delivery() const
{
    Delivery out;
    m_picture->putInto(out);
    out.name = m_name->text().toStdString();
    out.where = Delivery::Where(m_where->currentIndex());
    out.folder = m_folder->text().trimmed().toStdString();
    out.ifThere = Delivery::IfThere(m_ifThere->currentIndex());
    return out;
}

void DeliveryDialog::refresh()
{
    m_picture->form().setRowVisible(m_folder,
                                    m_where->currentIndex() != int(Delivery::Where::Beside));
    const bool needsFolder = m_where->currentIndex() == int(Delivery::Where::Folder) &&
                             m_folder->text().trimmed().isEmpty();
    NameFacts example{QFileInfo(m_photos.first()).completeBaseName().toStdString(),
                      "Take 1",
                      "2026-06-14",
                      today(),
                      1,
                      int(m_photos.size())};
    m_example->setText(
        needsFolder
            ? tr("Choose the folder that they go to.")
            : tr("e.g. %1").arg(QFileInfo(QString::fromStdString(deliveredPath(
                                              delivery(), m_photos.first().toStdString(), example)))
                                    .fileName()));
    if (m_go)
        m_go->setEnabled(!needsFolder && !m_name->text().isEmpty());
}

} // namespace buttonhole::app

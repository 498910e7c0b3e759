#include "sheet/delivery_dialog.h"

#include "controls/file_dialog.h"
#include "controls/slider.h"

#include <QCheckBox>
#include <QComboBox>
#include <QDialogButtonBox>
#include <QFileInfo>
#include <QFormLayout>
#include <QInputDialog>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QSpinBox>
#include <QToolButton>
#include <QVBoxLayout>

namespace buttonhole::app
{

namespace
{

using Kind = SizeRule::Kind;

struct SizeChoice {
    Kind kind;
    const char *name;
    const char *unit;
    int most;
};
constexpr SizeChoice kSizes[] = {
    {Kind::Own, QT_TRANSLATE_NOOP("buttonhole::app::DeliveryDialog", "As large as it is"), "", 0},
    {Kind::LongEdge, QT_TRANSLATE_NOOP("buttonhole::app::DeliveryDialog", "By its long edge"),
     " px", 60000},
    {Kind::Megapixels, QT_TRANSLATE_NOOP("buttonhole::app::DeliveryDialog", "By megapixels"), " MP",
     400},
    {Kind::Percent, QT_TRANSLATE_NOOP("buttonhole::app::DeliveryDialog", "By percent"), " %", 100}};

Slider::Range rangeOf(double least, double initial)
{
    Slider::Range out;
    out.least = least;
    out.initial = initial;
    return out;
}

} // namespace

DeliveryDialog::DeliveryDialog(const QStringList &photos, const Delivery &delivery, QWidget *parent)
    : QDialog(parent), m_photos(photos), m_format(new QComboBox(this)),
      m_quality(new Slider(tr("Quality"), rangeOf(1, 92),
                           tr("Larger keeps more detail, in a larger file"), this)),
      m_bits(new QComboBox(this)), m_sizeKind(new QComboBox(this)), m_amount(new QSpinBox(this)),
      m_sharpen(new Slider(tr("Sharpen for that size"), rangeOf(0, 0),
                           tr("Raises fine differences after it was made smaller"), this)),
      m_name(new QLineEdit(this)), m_example(new QLabel(this)), m_where(new QComboBox(this)),
      m_folder(new QLineEdit(this)), m_ifThere(new QComboBox(this)), m_space(new QComboBox(this)),
      m_carried(new QComboBox(this)), m_copyright(new QLineEdit(this)),
      m_strip(new QCheckBox(tr("Leave out where it was taken"), this)),
      m_signs(new QCheckBox(tr("With its signature"), this)),
      m_masks(new QCheckBox(tr("Each keep's mask beside it"), this))
{
    setObjectName(QStringLiteral("deliveryDialog"));
    setWindowTitle(photos.size() == 1 ? tr("Deliver %1").arg(QFileInfo(photos.first()).fileName())
                                      : tr("Deliver %1 photos").arg(photos.size()));
    setMinimumWidth(460);
    auto *layout = new QVBoxLayout(this);
    layout->setContentsMargins(20, 16, 20, 16);
    layout->setSpacing(10);
    auto *form = new QFormLayout;
    form->setHorizontalSpacing(16);
    form->setVerticalSpacing(8);
    addPicture(*form);
    addFile(*form);
    addAbout(*form);
    layout->addLayout(form);
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

void DeliveryDialog::addPicture(QFormLayout &form)
{
    for (int i = 0; i <= int(ExportSettings::Format::Avif); ++i)
        m_format->addItem(QString::fromLatin1(factsOf(ExportSettings::Format(i)).name));
    m_format->setObjectName(QStringLiteral("deliveryFormat"));
    form.addRow(tr("Format"), m_format);
    m_bits->addItems({tr("8 bits"), tr("16 bits")});
    form.addRow(tr("Depth"), m_bits);
    form.addRow(m_quality);
    for (const SizeChoice &each : kSizes)
        m_sizeKind->addItem(tr(each.name));
    m_sizeKind->setObjectName(QStringLiteral("deliverySize"));
    m_amount->setObjectName(QStringLiteral("deliveryAmount"));
    m_amount->setAccessibleName(tr("How large"));
    form.addRow(m_sizeKind, m_amount);
    form.addRow(m_sharpen);
    m_space->addItems({tr("As the photo"), tr("sRGB, for screens")});
    form.addRow(tr("Profile"), m_space);
    connect(m_format, &QComboBox::currentIndexChanged, this, &DeliveryDialog::refresh);
    connect(m_sizeKind, &QComboBox::currentIndexChanged, this, &DeliveryDialog::refresh);
}

void DeliveryDialog::addFile(QFormLayout &form)
{
    m_name->setObjectName(QStringLiteral("deliveryName"));
    m_name->setMaxLength(int(Delivery::kMostName) / 2);
    m_name->setToolTip(tr("{name}, {take}, {taken}, {date} and {number} are filled in"));
    form.addRow(tr("Name"), m_name);
    m_example->setObjectName(QStringLiteral("deliveryExample"));
    m_example->setTextFormat(Qt::PlainText);
    form.addRow(QString(), m_example);
    m_where->addItems({tr("Beside the photo"), tr("In a folder beside it"), tr("In one folder")});
    m_where->setObjectName(QStringLiteral("deliveryWhere"));
    m_folder->setObjectName(QStringLiteral("deliveryFolder"));
    m_folder->setAccessibleName(tr("Folder"));
    form.addRow(m_where, m_folder);
    m_ifThere->addItems({tr("Number the new one"), tr("Replace it"), tr("Skip it")});
    form.addRow(tr("If it is there"), m_ifThere);
    connect(m_name, &QLineEdit::textChanged, this, &DeliveryDialog::refresh);
    connect(m_folder, &QLineEdit::textChanged, this, &DeliveryDialog::refresh);
    connect(m_where, &QComboBox::currentIndexChanged, this, &DeliveryDialog::refresh);
    connect(m_where, &QComboBox::activated, this, [this](int index) {
        if (index == int(Delivery::Where::Folder))
            chooseFolder();
    });
}

void DeliveryDialog::addAbout(QFormLayout &form)
{
    m_carried->addItems({tr("All of the photo's"), tr("Author and copyright"), tr("Nothing")});
    form.addRow(tr("Metadata"), m_carried);
    m_copyright->setPlaceholderText(tr("As the photo says"));
    form.addRow(tr("Copyright"), m_copyright);
    form.addRow(QString(), m_strip);
    form.addRow(QString(), m_signs);
    form.addRow(QString(), m_masks);
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
    const ExportSettings &picture = delivery.picture;
    m_format->setCurrentIndex(int(picture.format));
    m_quality->setAmount(picture.quality);
    m_bits->setCurrentIndex(picture.bits == 16 ? 1 : 0);
    for (int i = 0; i < int(std::size(kSizes)); ++i)
        if (kSizes[i].kind == delivery.size.kind)
            m_sizeKind->setCurrentIndex(i);
    refresh();
    if (delivery.size.amount > 0)
        m_amount->setValue(int(delivery.size.amount));
    m_sharpen->setAmount(double(picture.sharpen) * 100);
    m_space->setCurrentIndex(int(picture.space));
    m_name->setText(QString::fromStdString(delivery.name));
    m_where->setCurrentIndex(int(delivery.where));
    m_folder->setText(QString::fromStdString(delivery.folder));
    m_ifThere->setCurrentIndex(int(delivery.ifThere));
    m_carried->setCurrentIndex(int(picture.carried));
    m_copyright->setText(QString::fromStdString(picture.copyright));
    m_strip->setChecked(picture.stripLocation);
    m_signs->setChecked(picture.signs);
    m_masks->setChecked(delivery.masks);
    refresh();
}

Delivery DeliveryDialog::delivery() const
{
    Delivery out;
    ExportSettings &picture = out.picture;
    picture.format = ExportSettings::Format(m_format->currentIndex());
    const FormatFacts &facts = factsOf(picture.format);
    picture.quality = int(m_quality->amount());
    picture.bits = facts.mostBits == 16 && m_bits->currentIndex() == 1 ? 16 : 8;
    picture.sharpen = float(m_sharpen->amount() / 100);
    picture.space = ExportSettings::Space(m_space->currentIndex());
    picture.carried = Metadata::Carried(m_carried->currentIndex());
    picture.copyright = m_copyright->text().trimmed().toStdString();
    picture.stripLocation = m_strip->isChecked();
    picture.signs = m_signs->isChecked();
    out.size.kind = kSizes[m_sizeKind->currentIndex()].kind;
    out.size.amount = out.size.kind == Kind::Own ? 0 : m_amount->value();
    out.name = m_name->text().toStdString();
    out.where = Delivery::Where(m_where->currentIndex());
    out.folder = m_folder->text().trimmed().toStdString();
    out.ifThere = Delivery::IfThere(m_ifThere->currentIndex());
    out.masks = m_masks->isChecked();
    return out;
}

void DeliveryDialog::refresh()
{
    const FormatFacts &facts = factsOf(ExportSettings::Format(m_format->currentIndex()));
    m_quality->setEnabled(facts.isLossy);
    m_bits->setEnabled(facts.mostBits == 16);
    m_space->setEnabled(!facts.isSrgb);
    const SizeChoice &size = kSizes[m_sizeKind->currentIndex()];
    m_amount->setVisible(size.most > 0);
    if (size.most > 0 && m_amount->maximum() != size.most) {
        m_amount->setRange(1, size.most);
        m_amount->setValue(size.kind == Kind::LongEdge     ? 2048
                           : size.kind == Kind::Megapixels ? 6
                                                           : 50);
        m_amount->setSuffix(QString::fromUtf8(size.unit));
    }
    m_folder->setVisible(m_where->currentIndex() != int(Delivery::Where::Beside));
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

#include "delivery/picture_form.h"

#include "controls/slider.h"

#include <QCheckBox>
#include <QComboBox>
#include <QFormLayout>
#include <QHBoxLayout>
#include <QLineEdit>
#include <QSpinBox>

namespace buttonhole::app
{

namespace
{

using Kind = SizeRule::Kind;
constexpr int kMostPx = 60000;

struct SizeChoice {
    Kind kind;
    const char *name;
    const char *unit;
    int most;
    int initial;
};
constexpr SizeChoice kSizes[] = {
    {Kind::Own, QT_TRANSLATE_NOOP("buttonhole::app::PictureForm", "As large as it is"), "", 0, 0},
    {Kind::LongEdge, QT_TRANSLATE_NOOP("buttonhole::app::PictureForm", "By its long edge"), " px",
     kMostPx, 2048},
    {Kind::Within, QT_TRANSLATE_NOOP("buttonhole::app::PictureForm", "Inside a box"), " px",
     kMostPx, 1920},
    {Kind::Megapixels, QT_TRANSLATE_NOOP("buttonhole::app::PictureForm", "By megapixels"), " MP",
     400, 6},
    {Kind::Percent, QT_TRANSLATE_NOOP("buttonhole::app::PictureForm", "By percent"), " %", 100,
     50}};

Slider::Range rangeOf(double least, double initial)
{
    Slider::Range out;
    out.least = least;
    out.initial = initial;
    return out;
}

} // namespace

PictureForm::PictureForm(QWidget *parent)
    : QWidget(parent), m_form(new QFormLayout(this)), m_format(new QComboBox(this)),
      m_quality(new Slider(tr("Quality"), rangeOf(1, 92),
                           tr("Larger keeps more detail, in a larger file"), this)),
      m_bits(new QComboBox(this)), m_sizeKind(new QComboBox(this)), m_amount(new QSpinBox(this)),
      m_height(new QSpinBox(this)),
      m_sharpen(new Slider(tr("Sharpen for that size"), rangeOf(0, 0),
                           tr("Raises fine differences after it was made smaller"), this)),
      m_space(new QComboBox(this)), m_carried(new QComboBox(this)),
      m_copyright(new QLineEdit(this)), m_description(new QLineEdit(this)),
      m_strip(new QCheckBox(tr("Leave out where it was taken"), this)),
      m_signs(new QCheckBox(tr("With its signature"), this)),
      m_masks(new QCheckBox(tr("Each keep's mask beside it"), this))
{
    m_form->setContentsMargins(0, 0, 0, 0);
    m_form->setHorizontalSpacing(16);
    m_form->setVerticalSpacing(8);
    addPicture();
    addAbout();
    for (QComboBox *each : {m_format, m_bits, m_sizeKind, m_space, m_carried})
        connect(each, &QComboBox::currentIndexChanged, this, &PictureForm::refresh);
    for (QSpinBox *each : {m_amount, m_height})
        connect(each, &QSpinBox::valueChanged, this, &PictureForm::changed);
    for (Slider *each : {m_quality, m_sharpen})
        connect(each, &Slider::amountChanged, this, &PictureForm::changed);
    connect(m_signs, &QCheckBox::toggled, this, &PictureForm::changed);
}

void PictureForm::addPicture()
{
    for (int i = 0; i < kPictureFormats; ++i)
        m_format->addItem(QString::fromLatin1(factsOf(PictureFormat(i)).name));
    m_format->setItemText(int(PictureFormat::OpenRaster), tr("OpenRaster, in layers"));
    m_format->setObjectName(QStringLiteral("deliveryFormat"));
    m_form->addRow(tr("Format"), m_format);
    m_bits->addItems({tr("8 bits"), tr("16 bits")});
    m_bits->setObjectName(QStringLiteral("deliveryBits"));
    m_form->addRow(tr("Depth"), m_bits);
    m_form->addRow(m_quality);
    for (const SizeChoice &each : kSizes)
        m_sizeKind->addItem(tr(each.name));
    m_sizeKind->setObjectName(QStringLiteral("deliverySize"));
    m_sizeKind->setAccessibleName(tr("Size"));
    m_amount->setObjectName(QStringLiteral("deliveryAmount"));
    m_amount->setAccessibleName(tr("How large"));
    m_height->setObjectName(QStringLiteral("deliveryHeight"));
    m_height->setAccessibleName(tr("Height of the box"));
    m_height->setRange(1, kMostPx);
    m_height->setValue(1080);
    m_height->setSuffix(tr(" px"));
    m_height->setPrefix(tr("× "));
    auto *how = new QHBoxLayout;
    how->setSpacing(8);
    how->addWidget(m_amount, 1);
    how->addWidget(m_height, 1);
    m_form->addRow(tr("Size"), m_sizeKind);
    m_form->addRow(QString(), how);
    m_sizeRow = how;
    m_form->addRow(m_sharpen);
    m_space->addItems({tr("As the photo"), tr("sRGB, for screens")});
    m_form->addRow(tr("Profile"), m_space);
}

void PictureForm::addAbout()
{
    m_carried->addItems({tr("All of the photo's"), tr("Author and copyright"), tr("Nothing")});
    m_form->addRow(tr("Metadata"), m_carried);
    for (QLineEdit *each : {m_copyright, m_description})
        each->setPlaceholderText(tr("As the photo says"));
    m_description->setObjectName(QStringLiteral("deliveryDescription"));
    m_form->addRow(tr("Copyright"), m_copyright);
    m_form->addRow(tr("Description"), m_description);
    m_form->addRow(QString(), m_strip);
    m_form->addRow(QString(), m_signs);
    m_form->addRow(QString(), m_masks);
}

void PictureForm::setOwnProfile(const QString &name)
{
    m_space->setItemText(0, tr("As the photo: %1").arg(name));
}

void PictureForm::use(const Delivery &delivery)
{
    const QSignalBlocker once(this);
    const ExportSettings &picture = delivery.picture;
    m_format->setCurrentIndex(int(picture.format));
    m_quality->setAmount(picture.quality);
    m_bits->setCurrentIndex(picture.bits == 16 ? 1 : 0);
    for (int i = 0; i < int(std::size(kSizes)); ++i)
        if (kSizes[i].kind == delivery.size.kind)
            m_sizeKind->setCurrentIndex(i);
    refresh();
    if (delivery.size.kind == Kind::Within) {
        m_amount->setValue(delivery.size.width);
        m_height->setValue(delivery.size.height);
    } else if (delivery.size.amount > 0) {
        m_amount->setValue(int(delivery.size.amount));
    }
    m_sharpen->setAmount(double(picture.sharpen) * 100);
    m_space->setCurrentIndex(int(picture.space));
    m_carried->setCurrentIndex(int(picture.carried));
    m_copyright->setText(QString::fromStdString(picture.copyright));
    m_description->setText(QString::fromStdString(picture.description));
    m_strip->setChecked(picture.stripLocation);
    m_signs->setChecked(picture.signs);
    m_masks->setChecked(delivery.masks);
}

void PictureForm::putInto(Delivery &delivery) const
{
    ExportSettings &picture = delivery.picture;
    const FormatFacts &facts = factsOf(format());
    picture.format = format();
    picture.quality = int(m_quality->amount());
    picture.bits = facts.mostBits == 16 && m_bits->currentIndex() == 1 ? 16 : 8;
    picture.sharpen = facts.hasLayers ? 0 : float(m_sharpen->amount() / 100);
    picture.space = ExportSettings::Space(m_space->currentIndex());
    picture.carried = Metadata::Carried(m_carried->currentIndex());
    picture.copyright = m_copyright->text().trimmed().toStdString();
    picture.description = m_description->text().trimmed().toStdString();
    picture.stripLocation = m_strip->isChecked();
    picture.signs = m_signs->isChecked();
    delivery.size = {};
    if (!facts.hasLayers)
        delivery.size.kind = kSizes[m_sizeKind->currentIndex()].kind;
    if (delivery.size.kind == Kind::Within) {
        delivery.size.width = m_amount->value();
        delivery.size.height = m_height->value();
    } else if (delivery.size.kind != Kind::Own) {
        delivery.size.amount = m_amount->value();
    }
    delivery.masks = m_masks->isChecked();
}

PictureFormat PictureForm::format() const
{
    return PictureFormat(m_format->currentIndex());
}

void PictureForm::refresh()
{
    const FormatFacts &facts = factsOf(format());
    m_quality->setEnabled(facts.isLossy);
    m_bits->setEnabled(facts.mostBits == 16);
    m_space->setEnabled(!facts.isSrgb);
    for (QWidget *each :
         std::initializer_list<QWidget *>{m_sizeKind, m_amount, m_height, m_sharpen})
        each->setEnabled(!facts.hasLayers);
    for (QWidget *each :
         std::initializer_list<QWidget *>{m_carried, m_copyright, m_description, m_strip})
        each->setEnabled(facts.holdsMetadata);
    const SizeChoice &size = kSizes[m_sizeKind->currentIndex()];
    m_form->setRowVisible(m_sizeRow, size.most > 0);
    m_height->setVisible(size.kind == Kind::Within);
    const QString unit = QString::fromUtf8(size.unit);
    if (size.most > 0 && (m_amount->maximum() != size.most || m_amount->suffix() != unit)) {
        m_amount->setRange(1, size.most);
        m_amount->setValue(size.initial);
        m_amount->setSuffix(unit);
    }
    Q_EMIT changed();
}

} // namespace buttonhole::app

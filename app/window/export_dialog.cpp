#include "window/export_dialog.h"

#include "controls/slider.h"
#include "style/theme.h"

#include <QCheckBox>
#include <QComboBox>
#include <QDialogButtonBox>
#include <QFormLayout>
#include <QLabel>
#include <QPushButton>
#include <QSpinBox>
#include <QTimer>
#include <QVBoxLayout>

namespace buttonhole::app
{

ExportDialog::ExportDialog(const Session &session, Jobs &jobs, const ExportSettings &settings,
                           QWidget *parent)
    : QDialog(parent), m_session(session), m_jobs(jobs), m_format(new QComboBox(this)),
      m_bits(new QComboBox(this)), m_resize(new QCheckBox(tr("Make it smaller"), this)),
      m_longEdge(new QSpinBox(this)), m_space(new QComboBox(this)),
      m_strip(new QCheckBox(tr("Leave out where it was taken"), this)), m_size(new QLabel(this))
{
    setWindowTitle(tr("Export"));
    setMinimumWidth(400);
    auto *layout = new QVBoxLayout(this);
    layout->setContentsMargins(20, 16, 20, 16);
    layout->setSpacing(12);
    auto *form = new QFormLayout;
    form->setHorizontalSpacing(16);
    form->setVerticalSpacing(10);

    m_format->addItems({tr("JPEG"), tr("PNG"), tr("TIFF"), tr("WebP"), tr("AVIF")});
    m_format->setCurrentIndex(int(settings.format));
    m_format->setAccessibleName(tr("Format"));
    form->addRow(tr("Format"), m_format);

    Slider::Range range;
    range.least = 1;
    range.initial = 92;
    m_quality =
        new Slider(tr("Quality"), range, tr("Larger keeps more detail, in a larger file"), this);
    m_quality->setAmount(settings.quality);
    form->addRow(m_quality);
    m_bits->addItems({tr("8 bits"), tr("16 bits")});
    m_bits->setCurrentIndex(settings.bits == 16 ? 1 : 0);
    m_bits->setAccessibleName(tr("Bits per channel"));
    form->addRow(tr("Depth"), m_bits);

    const Photo &photo = session.levels()->photo();
    const auto [width, height] = exportedSize(*session.take(), session.picture().rect());
    const int longEdge = std::max(width, height);
    m_resize->setChecked(settings.longEdgePx > 0 && settings.longEdgePx < longEdge);
    m_longEdge->setRange(1, longEdge);
    m_longEdge->setValue(settings.longEdgePx > 0 ? settings.longEdgePx : std::min(2048, longEdge));
    m_longEdge->setSuffix(tr(" px long edge"));
    m_longEdge->setAccessibleName(tr("Long edge in px"));
    form->addRow(m_resize, m_longEdge);

    m_space->addItems(
        {tr("As the photo: %1").arg(QString::fromStdString(photo.profile.description())),
         tr("sRGB, for screens")});
    m_space->setCurrentIndex(int(settings.space));
    m_space->setAccessibleName(tr("Colour profile"));
    form->addRow(tr("Profile"), m_space);
    m_strip->setChecked(settings.stripLocation);
    form->addRow(QString(), m_strip);
    layout->addLayout(form);
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
        Q_EMIT exportAsked(this->settings());
        accept();
    });

    for (QComboBox *box : {m_format, m_bits, m_space})
        connect(box, &QComboBox::currentIndexChanged, this, &ExportDialog::refresh);
    connect(m_quality, &Slider::amountChanged, this, &ExportDialog::refresh);
    connect(m_resize, &QCheckBox::toggled, this, &ExportDialog::refresh);
    connect(m_longEdge, &QSpinBox::valueChanged, this, &ExportDialog::refresh);
    refresh();
}

ExportDialog::~ExportDialog()
{
    m_measuring.request_stop();
}

ExportSettings ExportDialog::settings() const
{
    ExportSettings out;
    out.format = ExportSettings::Format(m_format->currentIndex());
    out.quality = int(m_quality->amount());
    out.bits = factsOf(out.format).mostBits == 16 && m_bits->currentIndex() == 1 ? 16 : 8;
    out.longEdgePx = m_resize->isChecked() ? m_longEdge->value() : 0;
    out.space = ExportSettings::Space(m_space->currentIndex());
    out.stripLocation = m_strip->isChecked();
    return out;
}

void ExportDialog::refresh()
{
    const FormatFacts &facts = factsOf(ExportSettings::Format(m_format->currentIndex()));
    m_quality->setEnabled(facts.isLossy);
    m_bits->setEnabled(facts.mostBits == 16);
    m_space->setEnabled(!facts.isSrgb);
    m_longEdge->setEnabled(m_resize->isChecked());
    measureSoon();
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
        [levels = m_session.levels(), take = m_session.take(), settings = settings()](
            const Run &run) { return measureExport(*levels, *take, settings, run); },
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

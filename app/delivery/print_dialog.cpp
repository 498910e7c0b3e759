#include "delivery/print_dialog.h"

#include "delivery/print_preview.h"

#include <QCheckBox>
#include <QComboBox>
#include <QDialogButtonBox>
#include <QDoubleSpinBox>
#include <QFormLayout>
#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QToolButton>
#include <QVBoxLayout>

#include <cmath>

namespace buttonhole::app
{

namespace
{

constexpr double kMmPerCm = 10;
constexpr double kCmPerInch = 2.54;

QDoubleSpinBox *makeLength(const char *id, const QString &unit, double most, QWidget *parent)
{
    auto *out = new QDoubleSpinBox(parent);
    out->setObjectName(QLatin1String(id));
    out->setRange(0, most);
    out->setDecimals(1);
    out->setSuffix(unit);
    return out;
}

QSpinBox *makeCount(const char *id, int least, int most, QWidget *parent)
{
    auto *out = new QSpinBox(parent);
    out->setObjectName(QLatin1String(id));
    out->setRange(least, most);
    return out;
}

} // namespace

PrintDialog::PrintDialog(int count, const PrintPage &page, const QSize &pixels, QWidget *parent)
    : QDialog(parent), m_pixels(pixels), m_preview(new PrintPreview(count, this)),
      m_form(new QFormLayout), m_pages(new QLabel(this)), m_back(new QToolButton(this)),
      m_on(new QToolButton(this)), m_paper(new QComboBox(this)),
      m_lies(new QCheckBox(tr("Lying"), this)),
      m_margin(makeLength("printMargin", tr(" mm"), 200, this)),
      m_columns(makeCount("printColumns", 1, 10, this)),
      m_rows(makeCount("printRows", 1, 10, this)),
      m_gap(makeLength("printGap", tr(" mm"), 100, this)), m_sizeKind(new QComboBox(this)),
      m_longEdge(makeLength("printLongEdge", tr(" cm"), 200, this)),
      m_dpi(makeCount("printDpi", 72, 1200, this)), m_words(new QLabel(this))
{
    setObjectName(QStringLiteral("printDialog"));
    setWindowTitle(count == 1 ? tr("Print") : tr("Print %1 photos").arg(count));
    auto *layout = new QVBoxLayout(this);
    layout->setContentsMargins(20, 16, 20, 16);
    layout->setSpacing(12);
    auto *halves = new QHBoxLayout;
    halves->setSpacing(20);
    auto *left = new QVBoxLayout;
    left->addWidget(m_preview, 1);
    left->addWidget(makePager());
    halves->addLayout(left, 1);
    auto *right = new QVBoxLayout;
    m_form->setHorizontalSpacing(16);
    m_form->setVerticalSpacing(8);
    addPaper(*m_form);
    addPictures(*m_form);
    right->addLayout(m_form);
    m_words->setObjectName(QStringLiteral("printWords"));
    m_words->setTextFormat(Qt::PlainText);
    m_words->setWordWrap(true);
    m_words->setFixedWidth(280);
    right->addSpacing(8);
    right->addWidget(m_words);
    right->addStretch();
    halves->addLayout(right);
    layout->addLayout(halves, 1);

    auto *buttons = new QDialogButtonBox(this);
    m_print = buttons->addButton(tr("Print…"), QDialogButtonBox::AcceptRole);
    m_print->setDefault(true);
    m_pdf = buttons->addButton(tr("As a PDF…"), QDialogButtonBox::ActionRole);
    m_pdf->setObjectName(QStringLiteral("printPdf"));
    m_pdf->setAutoDefault(false);
    buttons->addButton(tr("Not now"), QDialogButtonBox::RejectRole);
    layout->addWidget(buttons);
    connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
    connect(buttons, &QDialogButtonBox::accepted, this, [this] {
        Q_EMIT printAsked(this->page());
        accept();
    });
    connect(m_pdf, &QPushButton::clicked, this, [this] {
        Q_EMIT pdfAsked(this->page());
        accept();
    });
    use(page);
    for (QComboBox *each : {m_paper, m_sizeKind})
        connect(each, &QComboBox::currentIndexChanged, this, &PrintDialog::refresh);
    for (QDoubleSpinBox *each : {m_margin, m_gap, m_longEdge})
        connect(each, &QDoubleSpinBox::valueChanged, this, &PrintDialog::refresh);
    for (QSpinBox *each : {m_columns, m_rows, m_dpi})
        connect(each, &QSpinBox::valueChanged, this, &PrintDialog::refresh);
    connect(m_lies, &QCheckBox::toggled, this, &PrintDialog::refresh);
    refresh();
}

void PrintDialog::addPaper(QFormLayout &form)
{
    m_paper->setObjectName(QStringLiteral("printPaper"));
    for (const Paper &each : papers())
        m_paper->addItem(QString::fromUtf8(each.name));
    form.addRow(tr("Paper"), m_paper);
    m_lies->setObjectName(QStringLiteral("printLies"));
    form.addRow(QString(), m_lies);
    form.addRow(tr("Margins"), m_margin);
}

void PrintDialog::addPictures(QFormLayout &form)
{
    auto *grid = new QHBoxLayout;
    grid->setSpacing(8);
    m_columns->setAccessibleName(tr("Beside each other"));
    m_rows->setAccessibleName(tr("Below each other"));
    m_rows->setPrefix(tr("× "));
    grid->addWidget(m_columns, 1);
    grid->addWidget(m_rows, 1);
    form.addRow(tr("On a page"), grid);
    form.addRow(tr("Between them"), m_gap);
    m_sizeKind->setObjectName(QStringLiteral("printSize"));
    m_sizeKind->addItems({tr("As large as fits"), tr("By the long edge")});
    form.addRow(tr("Size"), m_sizeKind);
    m_longEdge->setMinimum(1);
    m_longEdge->setAccessibleName(tr("Long edge of a picture"));
    form.addRow(QString(), m_longEdge);
    m_dpi->setSuffix(tr(" dpi"));
    form.addRow(tr("Resolution"), m_dpi);
}

QWidget *PrintDialog::makePager()
{
    auto *row = new QWidget(this);
    auto *layout = new QHBoxLayout(row);
    layout->setContentsMargins(0, 0, 0, 0);
    m_back->setText(QStringLiteral("‹"));
    m_back->setAccessibleName(tr("Page before"));
    m_on->setText(QStringLiteral("›"));
    m_on->setAccessibleName(tr("Next page"));
    m_on->setObjectName(QStringLiteral("printNextPage"));
    layout->addStretch();
    for (QWidget *each : std::initializer_list<QWidget *>{m_back, m_pages, m_on})
        layout->addWidget(each);
    layout->addStretch();
    connect(m_back, &QToolButton::clicked, this, [this] {
        m_preview->showPage(m_preview->shown() - 1);
        refresh();
    });
    connect(m_on, &QToolButton::clicked, this, [this] {
        m_preview->showPage(m_preview->shown() + 1);
        refresh();
    });
    return row;
}

void PrintDialog::use(const PrintPage &page)
{
    m_lies->setChecked(page.widthMm > page.heightMm);
    const double shorter = std::min(page.widthMm, page.heightMm);
    for (size_t i = 0; i < papers().size(); ++i)
        if (std::abs(papers()[i].widthMm - shorter) < 0.5 &&
            std::abs(papers()[i].heightMm - std::max(page.widthMm, page.heightMm)) < 0.5)
            m_paper->setCurrentIndex(int(i));
    m_margin->setValue(page.marginMm);
    m_columns->setValue(page.columns);
    m_rows->setValue(page.rows);
    m_gap->setValue(page.gapMm);
    m_sizeKind->setCurrentIndex(page.longEdgeMm > 0 ? 1 : 0);
    m_longEdge->setValue(page.longEdgeMm > 0 ? page.longEdgeMm / kMmPerCm : 15);
    m_dpi->setValue(page.dpi);
}

PrintPage PrintDialog::page() const
{
    PrintPage out;
    const Paper &paper = papers()[size_t(m_paper->currentIndex())];
    out.widthMm = m_lies->isChecked() ? paper.heightMm : paper.widthMm;
    out.heightMm = m_lies->isChecked() ? paper.widthMm : paper.heightMm;
    out.marginMm = m_margin->value();
    out.columns = m_columns->value();
    out.rows = m_rows->value();
    out.gapMm = m_gap->value();
    out.longEdgeMm = m_sizeKind->currentIndex() == 1 ? m_longEdge->value() * kMmPerCm : 0;
    out.dpi = m_dpi->value();
    return out;
}

void PrintDialog::setPicture(int index, const QImage &picture)
{
    m_preview->setPicture(index, picture);
    if (index == 0)
        refresh();
}

QString PrintDialog::sizeWords(const PrintPage &page) const
{
    const PrintPlace place = m_preview->placeOf(0);
    const auto cm = [this](double mm) { return locale().toString(mm / kMmPerCm, 'f', 1); };
    const QString size = tr("%1 × %2 cm").arg(cm(place.width), cm(place.height));
    if (m_pixels.isEmpty())
        return size;
    const double inches = std::max(place.width, place.height) / kMmPerCm / kCmPerInch;
    const int most = int(std::max(m_pixels.width(), m_pixels.height()) / inches);
    return most < page.dpi ? tr("%1, %2 dpi: it has no more pixels").arg(size).arg(most)
                           : tr("%1, %2 dpi").arg(size).arg(page.dpi);
}

void PrintDialog::refresh()
{
    const PrintPage now = page();
    m_preview->setPage(now);
    const auto fine = checkPage(now);
    m_words->setText(fine ? sizeWords(now) : QString::fromStdString(fine.error().detail));
    m_print->setEnabled(fine.has_value());
    m_pdf->setEnabled(fine.has_value());
    m_form->setRowVisible(m_longEdge, m_sizeKind->currentIndex() == 1);
    m_gap->setEnabled(now.perPage() > 1);
    const int pages = m_preview->pages();
    m_pages->setText(tr("Page %1 of %2").arg(m_preview->shown() + 1).arg(pages));
    m_back->setEnabled(m_preview->shown() > 0);
    m_on->setEnabled(m_preview->shown() + 1 < pages);
}

} // namespace buttonhole::app

#include "delivery/printing.h"

#include "controls/file_dialog.h"
#include "delivery/print_dialog.h"

#include <QFileInfo>
#include <QPageLayout>
#include <QPainter>
#include <QPrintDialog>
#include <QPrinter>
#include <QPrinterInfo>

#include <algorithm>

namespace buttonhole::app
{

namespace
{

constexpr int kPreviewDpi = 96;

/// Draws all on a printer's pages, on whatever thread.
Result<Printed> printOn(QPrinter &printer, const Printing::Pictures &pictures,
                        const PrintPage &page, const Run &run)
{
    const Error refused{ErrorKind::Io, printer.printerName().toStdString(),
                        "it does not take the pages: see whether it is on and has paper"};
    QPainter painter;
    if (!painter.begin(&printer))
        return refused;
    painter.setRenderHint(QPainter::SmoothPixmapTransform);
    Printed out;
    out.pages = 1;
    const double scale = printer.resolution() / 25.4;
    for (size_t i = 0; i < size_t(pictures.count); ++i) {
        Run part = run;
        part.progress = [&](float done) { run.report((float(i) + done) / float(pictures.count)); };
        const auto picture = pictures.render(page, i, part);
        if (!picture) {
            printer.abort();
            return picture.error();
        }
        const PrintPlace &at = picture->place;
        if (at.page >= out.pages) {
            if (!printer.newPage())
                return refused;
            ++out.pages;
        }
        out.leastDpi = i == 0 ? picture->dpi() : std::min(out.leastDpi, picture->dpi());
        const QImage image = QImage::fromData(picture->jpeg.data(), int(picture->jpeg.size()));
        painter.drawImage(QRectF(at.x * scale, at.y * scale, at.width * scale, at.height * scale),
                          image);
    }
    return painter.end() ? Result<Printed>(out) : refused;
}

} // namespace

Printing::Printing(Jobs &jobs, QWidget *window) : QObject(window), m_jobs(jobs), m_window(window) {}

void Printing::ask(const Pictures &pictures)
{
    auto *dialog = new PrintDialog(pictures.count, m_page, pictures.pixels, m_window);
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    connect(dialog, &PrintDialog::pdfAsked, this,
            [this, pictures](const PrintPage &page) { choosePdf(pictures, page); });
    connect(dialog, &PrintDialog::printAsked, this,
            [this, pictures](const PrintPage &page) { choosePrinter(pictures, page); });
    const std::stop_source stop = m_jobs.start(
        {},
        [pictures, guard = QPointer<PrintDialog>(dialog)](const Run &run) {
            PrintPage page; // one to a page, few pixels: as it will be laid out later
            page.dpi = kPreviewDpi;
            for (int i = 0; i < pictures.count && !run.stopped(); ++i) {
                const auto picture = pictures.render(page, size_t(i), run);
                if (!picture)
                    continue; // is said when it is printed
                const QImage image =
                    QImage::fromData(picture->jpeg.data(), int(picture->jpeg.size()));
                QMetaObject::invokeMethod(qApp, [guard, i, image] {
                    if (guard)
                        guard->setPicture(i, image);
                });
            }
            return Result<void>();
        },
        [](const Result<void> &) {});
    connect(dialog, &QObject::destroyed, this, [stop]() mutable { stop.request_stop(); });
    dialog->open();
}

void Printing::choosePdf(const Pictures &pictures, const PrintPage &page)
{
    m_page = page;
    auto *dialog = newFileDialog(m_window, tr("Print into a PDF"), {}, QStringLiteral("*.pdf"));
    dialog->setAcceptMode(QFileDialog::AcceptSave);
    dialog->setDefaultSuffix(QStringLiteral("pdf"));
    dialog->selectFile(pictures.name + QStringLiteral(".pdf"));
    connect(dialog, &QFileDialog::fileSelected, this,
            [this, pictures, page](const QString &path) { writePdf(pictures, page, path); });
    dialog->open();
}

void Printing::writePdf(const Pictures &pictures, const PrintPage &page, const QString &path)
{
    m_jobs.start(
        tr("Printing…"),
        [pictures, page, path = path.toStdString()](const Run &run) {
            const auto next = [&](size_t i, const Run &part) {
                return pictures.render(page, i, part);
            };
            return printPdf(size_t(pictures.count), next, page, path, run);
        },
        [this, name = QFileInfo(path).fileName()](const Result<Printed> &done) {
            end(done, name);
        });
}

std::shared_ptr<QPrinter> Printing::makePrinter(const PrintPage &page, const QString &name)
{
    auto printer = std::make_shared<QPrinter>(QPrinter::HighResolution);
    printer->setResolution(std::max(page.dpi, 300));
    printer->setFullPage(true);
    const bool lies = page.widthMm > page.heightMm;
    const QSizeF upright(std::min(page.widthMm, page.heightMm),
                         std::max(page.widthMm, page.heightMm));
    printer->setPageLayout({QPageSize(upright, QPageSize::Millimeter, {}, QPageSize::FuzzyMatch),
                            lies ? QPageLayout::Landscape : QPageLayout::Portrait, QMarginsF()});
    printer->setDocName(name);
    return printer;
}

void Printing::choosePrinter(const Pictures &pictures, const PrintPage &page)
{
    m_page = page;
    const auto printer = makePrinter(page, pictures.name);
    auto *dialog = new QPrintDialog(printer.get(), m_window);
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    connect(dialog, qOverload<QPrinter *>(&QPrintDialog::accepted), this,
            [this, pictures, page, printer] { print(pictures, page, printer); });
    dialog->open();
}

void Printing::print(const Pictures &pictures, const PrintPage &page,
                     const std::shared_ptr<QPrinter> &printer)
{
    m_jobs.start(
        tr("Printing…"),
        [pictures, page, printer](const Run &run) {
            return printOn(*printer, pictures, page, run);
        },
        [this, printer](const Result<Printed> &done) { end(done, printer->printerName()); });
}

void Printing::end(const Result<Printed> &done, const QString &what)
{
    if (done)
        Q_EMIT said(done->pages == 1 ? tr("Printed a page: %1").arg(what)
                                     : tr("Printed %1 pages: %2").arg(done->pages).arg(what));
    else if (done.error().kind != ErrorKind::Cancelled)
        Q_EMIT failed(done.error());
    Q_EMIT printed(done.has_value());
}

} // namespace buttonhole::app

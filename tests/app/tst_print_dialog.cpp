#include "delivery/print_dialog.h"
#include "delivery/print_preview.h"
#include "delivery/printing.h"
#include "prepare_fixture.h"
#include "registry.h"

#include <QComboBox>
#include <QDoubleSpinBox>
#include <QFileDialog>
#include <QLabel>
#include <QPrinter>
#include <QPushButton>
#include <QSignalSpy>
#include <QSpinBox>
#include <QTemporaryDir>

using namespace buttonhole;
using test::WindowDriver;

/// From the open photo onto pages.
class TstPrintDialog : public test::PrepareFixture
{
    Q_OBJECT

    app::PrintDialog &dialog() { return child<app::PrintDialog>("printDialog"); }
    QString words() { return child<QLabel>("printWords").text(); }

private Q_SLOTS:
    void init()
    {
        m_driver = std::make_unique<WindowDriver>(m_folder.path());
        QVERIFY(m_driver->open(test::demo("mill-pond.jpg"))); // 2400 x 1600
        m_driver->key(Qt::Key_P, Qt::ControlModifier);
        QVERIFY(dialog().isVisible());
    }
    void cleanup() { m_driver.reset(); }

    void thePageIsSeenAsItWillBe()
    {
        // On A4 with margins of 12 mm it is 18.6 cm wide.
        QTRY_VERIFY_WITH_TIMEOUT(words().startsWith(QStringLiteral("18.6 × 12.4 cm")), 30000);
        QVERIFY(words().contains(QStringLiteral("300 dpi")));
        auto &preview = child<app::PrintPreview>("printPreview");
        const auto colourAt = [&](double x, double y) { // shares of the page
            const QImage seen = preview.grab().toImage();
            const double scale =
                std::min((preview.width() - 24) / 210.0, (preview.height() - 24) / 297.0);
            return QColor(seen.pixel(int(preview.width() / 2.0 + (x - 0.5) * 210 * scale),
                                     int(preview.height() / 2.0 + (y - 0.5) * 297 * scale)));
        };
        const auto isGrey = [&] { // as the take is; a place that waits for its picture is not
            const QColor middle = colourAt(0.5, 0.5);
            return middle.lightness() < 240 && std::abs(middle.red() - middle.blue()) <= 3;
        };
        QTRY_VERIFY_WITH_TIMEOUT(isGrey(), 30000);
        QCOMPARE(colourAt(0.5, 0.2), QColor(Qt::white)); // above the picture

        child<QComboBox>("printSize").setCurrentIndex(1);
        child<QDoubleSpinBox>("printLongEdge").setValue(6);
        QVERIFY(words().startsWith(QStringLiteral("6.0 × 4.0 cm")));
        QCOMPARE(colourAt(0.2, 0.5), QColor(Qt::white));
        child<QSpinBox>("printDpi").setValue(1200);
        QVERIFY(words().contains(QStringLiteral("no more pixels")));
    }

    void marginsThatLeaveNoRoomAreRefused()
    {
        child<QDoubleSpinBox>("printMargin").setValue(104);
        QVERIFY(words().contains(QStringLiteral("no room")));
        QVERIFY(!child<QPushButton>("printPdf").isEnabled());
        child<QDoubleSpinBox>("printMargin").setValue(20);
        QVERIFY(child<QPushButton>("printPdf").isEnabled());
    }

    void aPdfIsWritten()
    {
        child<QDoubleSpinBox>("printMargin").setValue(30);
        child<QPushButton>("printPdf").click();
        QTRY_VERIFY(m_driver->window().findChild<QFileDialog *>());
        auto *files = m_driver->window().findChild<QFileDialog *>();
        const QString path = m_folder.filePath(QStringLiteral("page.pdf"));
        QSignalSpy printed(m_driver->window().findChild<app::Printing *>(),
                           &app::Printing::printed);
        files->selectFile(path);
        QMetaObject::invokeMethod(files, "accept");
        QVERIFY(printed.size() == 1 || printed.wait(60000));
        QVERIFY(printed.at(0).at(0).toBool());
        QFile file(path);
        QVERIFY(file.open(QIODevice::ReadOnly));
        QVERIFY(file.readAll().startsWith("%PDF"));
        // The next one begins as this one was.
        m_driver->key(Qt::Key_P, Qt::ControlModifier);
        QCOMPARE(dialog().page().marginMm, 30.0);
    }

    void aPrinterGetsThePages()
    {
        dialog().close();
        PrintPage page;
        page.rows = 2;
        page.dpi = 100;
        page.marginMm = 20;
        app::Printing::Pictures pictures;
        pictures.count = 3;
        pictures.render = [levels = m_driver->session().levels(),
                           take = m_driver->session().take()](const PrintPage &asked, size_t index,
                                                              const Run &run) {
            return pictureForPrint(*levels, *take, asked, index, run);
        };
        auto *printing = m_driver->window().findChild<app::Printing *>();
        const auto printer = app::Printing::makePrinter(page, QStringLiteral("pages"));
        printer->setOutputFormat(QPrinter::PdfFormat); // one that is always there
        printer->setOutputFileName(m_folder.filePath(QStringLiteral("printer.pdf")));
        QSignalSpy printed(printing, &app::Printing::printed);
        printing->print(pictures, page, printer);
        QVERIFY(printed.size() == 1 || printed.wait(60000));
        QVERIFY(printed.at(0).at(0).toBool());
        QFile file(m_folder.filePath(QStringLiteral("printer.pdf")));
        QVERIFY(file.open(QIODevice::ReadOnly));
        const QByteArray pdf = file.readAll();
        QCOMPARE(pdf.count("/Type /Page\n"), 2);
        // To the edges of A4.
        QVERIFY(pdf.contains("/MediaBox [0 0 595"));

        // A picture that cannot be had ends it, and it is said.
        pictures.render = [](const PrintPage &, size_t, const Run &) {
            return Error{ErrorKind::NotFound, "nowhere.jpg", {}};
        };
        QSignalSpy failed(printing, &app::Printing::failed);
        printing->print(pictures, page, app::Printing::makePrinter(page, QStringLiteral("none")));
        QVERIFY(printed.size() == 2 || printed.wait(60000));
        QVERIFY(!printed.at(1).at(0).toBool());
        QCOMPARE(failed.size(), 1);
    }
};

BUTTONHOLE_TEST(TstPrintDialog)

#include "tst_print_dialog.moc"

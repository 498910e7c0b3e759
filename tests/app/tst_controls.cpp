#include "controls/help_text.h"
#include "controls/slider.h"
#include "delivery/export_dialog.h"
#include "ticket/details.h"
#include "ticket/ticket.h"
#include "window/main_window.h"

#include "registry.h"
#include "window_driver.h"

#include <QCheckBox>
#include <QComboBox>
#include <QDir>
#include <QFileDialog>
#include <QInputDialog>
#include <QLabel>
#include <QLineEdit>
#include <QSignalSpy>
#include <QSpinBox>
#include <QTemporaryDir>
#include <QToolButton>
#include <QWheelEvent>

#include <atomic>
#include <sys/resource.h>
#include <thread>
#include <unistd.h>

using namespace buttonhole;
using namespace buttonhole::test;

namespace
{

/// 0 to 100 %, first 80, shown.
class StrengthSlider : public app::Slider
{
public:
    StrengthSlider()
        : Slider(QStringLiteral("Strength"), {0, 100, 80, 1, false, QStringLiteral(" %"), 0}, {})
    {
        resize(210, 36);
        show();
    }
};

} // namespace

/// The controls beside the canvas: slider, ticket, details, export dialog.
class TstControls : public QObject
{
    Q_OBJECT
    std::unique_ptr<QTemporaryDir> m_folder;
    std::unique_ptr<WindowDriver> m_driver;

    app::MainWindow &window() { return m_driver->window(); }
    const Keep &keep() { return m_driver->session().take()->keeps[0]; }
    template <class T>
    T *named(QWidget *parent, const char *accessibleName)
    {
        for (T *each : parent->findChildren<T *>())
            if (each->accessibleName() == QLatin1String(accessibleName))
                return each;
        return nullptr;
    }
    /// Counted from Grey on; Prepare stands above it.
    app::TicketRow *row(int index) { return window().ticket().rows()[index + 1]; }
    void openAndPaint()
    {
        m_driver = std::make_unique<WindowDriver>(m_folder->path());
        QVERIFY(m_driver->open(demo("spools.jpg")));
        window().brush().setTip({150, 0, 1, 1, PressureSteers::Size});
        m_driver->paint({{1325, 800}, {1325, 860}});
    }

private Q_SLOTS:
    void init() { m_folder = std::make_unique<QTemporaryDir>(); }
    void cleanup() { m_driver.reset(); }

    /// Words that find no room end in an ellipsis: no line is cut through.
    void aHintIsNeverCutThrough()
    {
        const QString words =
            QStringLiteral("Click round it, end on the first point. ").repeated(4);
        app::HelpText hint(words);
        const int line = hint.fontMetrics().height();
        const auto isBlank = [](const QImage &of, int row) {
            for (int x = 1; x < of.width(); ++x)
                if (of.pixel(x, row) != of.pixel(0, row))
                    return false;
            return true;
        };
        for (const int lines : {1, 2, 3}) {
            hint.resize(180, lines * line + line / 2);
            const QImage seen = hint.grab().toImage();
            QVERIFY(isBlank(seen, 0));
            QVERIFY(isBlank(seen, seen.height() - 1));
            int inked = 0;
            for (int y = 0; y < seen.height(); ++y)
                inked += isBlank(seen, y) ? 0 : 1;
            QVERIFY(inked > (lines - 1) * line && inked <= lines * line);
        }
        // What fits is there as it is.
        hint.setText(QStringLiteral("Drag."));
        const QImage plain = hint.grab().toImage();
        hint.setText(QStringLiteral("Drag"));
        QVERIFY(hint.grab().toImage() != plain);
    }

    /// What works in the background goes behind the window's own thread, its helpers too.
    void jobsGiveWay()
    {
        const auto nice = [] { return getpriority(PRIO_PROCESS, id_t(gettid())); };
        const int own = nice();
        app::Jobs jobs;
        Result<int> least = 0;
        jobs.start(
            {},
            [&nice](const Run &) -> Result<int> {
                std::atomic<int> seen{nice()};
                parallelFor(64, [&](int) {
                    for (int now = nice(), before = seen; now < before;)
                        if (seen.compare_exchange_weak(before, now))
                            break;
                    std::this_thread::sleep_for(std::chrono::milliseconds(1));
                });
                return int(seen);
            },
            [&](const Result<int> &result) { least = result; });
        QVERIFY(QTest::qWaitFor([&] { return jobs.isIdle(); }, 5000));
        QVERIFY(least);
        QVERIFY2(*least > own, qPrintable(QString::number(*least)));
        QCOMPARE(nice(), own);
    }

    void sliderByMouse()
    {
        StrengthSlider slider;
        QList<double> amounts;
        connect(&slider, &app::Slider::amountChanged, &slider,
                [&](double a) { amounts.append(a); });
        QTest::mousePress(&slider, Qt::LeftButton, Qt::NoModifier, {105, 28});
        QVERIFY(std::abs(slider.amount() - 50) <= 1);
        QTest::mouseMove(&slider, {150, 28});
        QVERIFY(slider.amount() > 70);
        QTest::mouseRelease(&slider, Qt::LeftButton, Qt::NoModifier, {150, 28});
        QVERIFY(amounts.size() >= 2);
        QTest::mouseDClick(&slider, Qt::LeftButton, Qt::NoModifier, {60, 28});
        QCOMPARE(slider.amount(), 80.0);
    }

    void sliderByKeysAndTyping()
    {
        StrengthSlider slider;
        QTest::keyClick(&slider, Qt::Key_Right);
        QCOMPARE(slider.amount(), 81.0);
        QTest::keyClick(&slider, Qt::Key_PageDown);
        QCOMPARE(slider.amount(), 71.0);
        QTest::keyClick(&slider, Qt::Key_End);
        QTest::keyClick(&slider, Qt::Key_Right); // stays at its end
        QCOMPARE(slider.amount(), 100.0);
        QTest::mouseClick(&slider, Qt::LeftButton, Qt::NoModifier, {195, 8});
        auto *editor = slider.findChild<QLineEdit *>();
        QVERIFY(editor);
        editor->selectAll();
        QTest::keyClicks(editor, QStringLiteral("37"));
        QTest::keyClick(editor, Qt::Key_Return);
        QCOMPARE(slider.amount(), 37.0);
    }

    void theWheelTurnsOnlyAFocusedSlider()
    {
        StrengthSlider slider;
        QWheelEvent event(QPointF(50, 20), slider.mapToGlobal(QPointF(50, 20)), {}, {0, 120},
                          Qt::NoButton, Qt::NoModifier, Qt::NoScrollPhase, false);
        QCoreApplication::sendEvent(&slider, &event);
        QCOMPARE(slider.amount(), 80.0);
        slider.activateWindow();
        slider.setFocus();
        QVERIFY(QTest::qWaitForWindowActive(&slider));
        QCoreApplication::sendEvent(&slider, &event);
        QCOMPARE(slider.amount(), 81.0);
    }

    void strengthIsOneMovePerDrag()
    {
        openAndPaint();
        auto *strength = window().findChild<app::Details *>()->findChild<app::Slider *>();
        QTest::mousePress(strength, Qt::LeftButton, Qt::NoModifier, {strength->width() - 20, 28});
        for (int x = strength->width() - 20; x > strength->width() / 2; x -= 7)
            QTest::mouseMove(strength, {x, 28});
        QTest::mouseRelease(strength, Qt::LeftButton, Qt::NoModifier, {strength->width() / 2, 28});
        QVERIFY(keep().strength > 0.4F && keep().strength < 0.65F);
        QCOMPARE(m_driver->session().history().entries().size(), size_t(3));
        const int faded = colourfulness(m_driver->colourAt(1325, 830));
        m_driver->key(Qt::Key_Z, Qt::ControlModifier);
        QCOMPARE(keep().strength, 1.0F);
        QVERIFY(colourfulness(m_driver->colourAt(1325, 830)) > faded + 20);
    }

    void ticketLinesSwitchSelectAndGo()
    {
        openAndPaint();
        QCOMPARE(window().ticket().rows().size(), 4); // prepare, grey, the keep, its step
        QTRY_COMPARE(row(2)->visibleRegion().boundingRect(), row(2)->rect()); // all of it is seen
        auto *keepSwitch = row(1)->findChild<QCheckBox *>();
        QTest::mouseClick(keepSwitch, Qt::LeftButton, Qt::NoModifier, keepSwitch->rect().center());
        QVERIFY(!keep().on);
        QVERIFY(colourfulness(m_driver->colourAt(1325, 830)) <= 2);
        m_driver->key(Qt::Key_Z, Qt::ControlModifier);
        QVERIFY(colourfulness(m_driver->colourAt(1325, 830)) > 60);
        auto *greySwitch = row(0)->findChild<QCheckBox *>();
        QTest::mouseClick(greySwitch, Qt::LeftButton, Qt::NoModifier, greySwitch->rect().center());
        QVERIFY(colourfulness(m_driver->colourAt(900, 900)) > 10);
        m_driver->key(Qt::Key_Z, Qt::ControlModifier);

        QTest::mouseClick(row(2), Qt::LeftButton, Qt::NoModifier, {100, 10});
        QCOMPARE(m_driver->session().line().kind, app::TicketLine::Kind::Step);
        QTest::keyClick(row(2), Qt::Key_Delete);
        QVERIFY(keep().steps.empty());
        m_driver->key(Qt::Key_Z, Qt::ControlModifier);
        QCOMPARE(keep().steps.size(), size_t(1));
        QVERIFY(colourfulness(m_driver->colourAt(1325, 830)) > 60);
    }

    void aStepsSignCanBeChanged()
    {
        openAndPaint();
        QTest::mouseClick(row(2), Qt::LeftButton, Qt::NoModifier, {100, 10});
        for (auto *button : window().findChild<app::Details *>()->findChildren<QToolButton *>())
            if (button->text() == QStringLiteral("subtract"))
                QTest::mouseClick(button, Qt::LeftButton);
        QCOMPARE(keep().steps[0].sign, Sign::Subtract);
        QVERIFY(colourfulness(m_driver->colourAt(1325, 830)) <= 2);
    }

    void keepsAreRenamed()
    {
        openAndPaint();
        m_driver->session().select({app::TicketLine::Kind::Keep, keep().id, 0});
        m_driver->key(Qt::Key_F2);
        auto *name = named<QLineEdit>(window().findChild<app::Details *>(), "Name of the keep");
        QVERIFY(name && name->hasFocus());
        name->selectAll();
        QTest::keyClicks(name, QStringLiteral("Rust spool"));
        QTest::keyClick(name, Qt::Key_Return);
        QCOMPARE(keep().name, std::string("Rust spool"));
        QCOMPARE(row(1)->content().name, QStringLiteral("Rust spool"));
    }

    void theMemoryIsSetAndRemembered()
    {
        openAndPaint();
        window().actions()["memory"]->trigger();
        auto *dialog = window().findChild<QInputDialog *>(QStringLiteral("memory"));
        QVERIFY(dialog);
        dialog->setIntValue(1024);
        dialog->accept();
        QCOMPARE(window().settings().memoryMb, 1024);
        m_driver.reset(); // writes the settings
        WindowDriver again(m_folder->path());
        QCOMPARE(again.window().settings().memoryMb, 1024);
    }

    void theExportDialogTellsTheSize()
    {
        openAndPaint();
        window().actions()["export"]->trigger();
        auto *dialog = window().findChild<app::ExportDialog *>();
        QVERIFY(dialog);
        auto *size = named<QLabel>(dialog, "Size of the picture");
        QTRY_VERIFY_WITH_TIMEOUT(size->text().contains(QStringLiteral("2400 × 1600")) &&
                                     size->text().contains(QStringLiteral("B")),
                                 20000);
        const QString full = size->text();
        auto *format = dialog->findChild<QComboBox *>(QStringLiteral("deliveryFormat"));
        format->setCurrentIndex(int(PictureFormat::Png));
        QVERIFY(dialog->findChild<QComboBox *>(QStringLiteral("deliveryBits"))->isEnabled());
        QTRY_VERIFY_WITH_TIMEOUT(size->text() != full, 20000);
        auto *rule = named<QComboBox>(dialog, "Size");
        rule->setCurrentIndex(rule->findText(QStringLiteral("By its long edge")));
        named<QSpinBox>(dialog, "How large")->setValue(900);
        QTRY_VERIFY_WITH_TIMEOUT(size->text().contains(QStringLiteral("900 × 600")), 20000);
        QCOMPARE(dialog->delivery().size.amount, 900.0);
        QCOMPARE(dialog->delivery().picture.format, PictureFormat::Png);
        rule->setCurrentIndex(rule->findText(QStringLiteral("Inside a box")));
        named<QSpinBox>(dialog, "How large")->setValue(800);
        named<QSpinBox>(dialog, "Height of the box")->setValue(400);
        QTRY_VERIFY_WITH_TIMEOUT(size->text().contains(QStringLiteral("600 × 400")), 20000);
        format->setCurrentIndex(int(PictureFormat::OpenRaster)); // layers keep their own size
        QTRY_VERIFY_WITH_TIMEOUT(size->text().contains(QStringLiteral("2400 × 1600")), 20000);
        dialog->reject();
    }

    void allTakesAreExported()
    {
        openAndPaint();
        window().actions()["new-take"]->trigger();
        QCOMPARE(m_driver->session().work().takes.size(), size_t(2));
        QSignalSpy exported(&window().exporting(), &app::Exporting::exported);
        window().actions()["export"]->trigger();
        auto *dialog = window().findChild<app::ExportDialog *>();
        auto *all = dialog->findChild<QCheckBox *>(QStringLiteral("allTakes"));
        QVERIFY(all->isVisible());
        all->setChecked(true);
        QTest::keyClick(dialog, Qt::Key_Return);
        QTRY_VERIFY(window().findChild<QFileDialog *>());
        auto *files = window().findChild<QFileDialog *>();
        files->selectFile(m_folder->filePath(QStringLiteral("two.jpg")));
        QMetaObject::invokeMethod(files, "accept");
        QVERIFY(exported.size() == 1 || exported.wait(60000));
        QVERIFY(exported.at(0).at(0).toBool());
        const QStringList made =
            QDir(m_folder->path()).entryList({QStringLiteral("two-*.jpg")}, QDir::Files);
        QCOMPARE(made.size(), 2);
        QCOMPARE(QImage(m_folder->filePath(made[0])).size(), QSize(2400, 1600));
    }
};

BUTTONHOLE_TEST(TstControls)

#include "tst_controls.moc"

#include "window/main_window.h"
#include "window/status_row.h"

#include "registry.h"
#include "sample_files.h"
#include "window_driver.h"

#include <QDir>
#include <QDropEvent>
#include <QMenu>
#include <QMessageBox>
#include <QMimeData>
#include <QProcess>
#include <QPushButton>
#include <QSignalSpy>
#include <QTemporaryDir>

using namespace buttonhole;
using namespace buttonhole::test;

/// The ways in and out: open, drop, save, reopen, unsaved work, export, and what can go wrong.
class TstFiles : public QObject
{
    Q_OBJECT
    std::unique_ptr<QTemporaryDir> m_folder;
    std::unique_ptr<WindowDriver> m_driver;

    QString at(const QString &name) const { return m_folder->filePath(name); }
    QString at(const char *name) const { return at(QString::fromLatin1(name)); }
    app::MainWindow &window() { return m_driver->window(); }
    uint16_t maskAt(int x, int y)
    {
        return maskOf(m_driver->session().take()->keeps[0], {x, y, x + 1, y + 1})[0];
    }
    void paintSpool()
    {
        window().brush().setTip({150, 0.4F, 1, 0.9F, PressureSteers::Size});
        m_driver->paint({{1325, 780}, {1330, 800}, {1325, 880}});
        m_driver->paint({{1325, 780}}, Qt::ControlModifier);
    }
    /// The canvas without what is drawn over the photo.
    static QImage picture(WindowDriver &driver)
    {
        driver.canvas().setShowsStitch(false);
        driver.settle();
        QEvent leave(QEvent::Leave);
        QCoreApplication::sendEvent(&driver.canvas(), &leave);
        return driver.canvas().grab().toImage();
    }
    /// The photo copied beside the work, as people have it.
    QString photoCopy()
    {
        const QString copy = at("spools.jpg");
        if (!QFile::exists(copy))
            QFile::copy(demo("spools.jpg"), copy);
        return copy;
    }
    /// The text of the box with this name, which is then closed by one of its buttons.
    QString answer(const char *box, const char *button)
    {
        auto *found = window().findChild<QMessageBox *>(QLatin1String(box));
        if (!found)
            return {};
        const QString text = found->text();
        auto *pressed = button ? found->findChild<QPushButton *>(QLatin1String(button))
                               : found->findChild<QPushButton *>();
        QTest::mouseClick(pressed, Qt::LeftButton);
        QCoreApplication::sendPostedEvents(nullptr, QEvent::DeferredDelete);
        return text;
    }

private Q_SLOTS:
    void init()
    {
        m_folder = std::make_unique<QTemporaryDir>();
        m_driver = std::make_unique<WindowDriver>(m_folder->path());
    }
    void cleanup()
    {
        m_driver.reset();
        m_folder.reset();
    }

    void saveAndOpenAgainExactly()
    {
        QVERIFY(m_driver->open(photoCopy()));
        paintSpool();
        window().actions()["invert-line"]->trigger();
        window().actions()["split"]->trigger();
        m_driver->canvas().restoreView(1.5, {1000, 700});
        const auto mask = maskOf(m_driver->session().take()->keeps[0], {1200, 700, 1450, 950});
        const QPointF centre = m_driver->canvas().transform().centre();
        QVERIFY(m_driver->session().isUnsaved());
        QVERIFY(window().windowTitle().endsWith(QStringLiteral(" *")));
        QVERIFY(m_driver->save(at("work.buttonhole")));
        QVERIFY(!window().windowTitle().endsWith(QStringLiteral(" *")));

        WindowDriver again(at("other"));
        QVERIFY(again.open(at("work.buttonhole")));
        const Take &take = *again.session().take();
        QVERIFY(take.keeps[0].invert);
        QCOMPARE(maskOf(take.keeps[0], {1200, 700, 1450, 950}), mask);
        QVERIFY(again.canvas().look().split);
        QCOMPARE(again.canvas().transform().scale(), 1.5);
        QCOMPARE(again.canvas().transform().centre(), centre);
        QVERIFY(again.session().line() == m_driver->session().line());
        QVERIFY(!again.session().isUnsaved());
        QCOMPARE(picture(again), picture(*m_driver));
        // Undo goes on from here.
        again.window().brush().setTip({40, 0, 1, 1, PressureSteers::Size});
        again.paint({{1000, 700}});
        again.key(Qt::Key_Z, Qt::ControlModifier);
        QVERIFY(!again.session().isUnsaved());
    }

    void aGlanceStandsForThePhotoThatIsOpening()
    {
        QVERIFY(m_driver->open(photoCopy()));
        const QImage before = picture(*m_driver);
        QImage red(30, 20, QImage::Format_RGB32);
        red.fill(Qt::red);
        m_driver->canvas().setGlance(red, {3000, 2000});
        const QPoint centre = m_driver->canvas().rect().center();
        QCOMPARE(m_driver->canvas().grab().toImage().pixelColor(centre), QColor(Qt::red));
        paintSpool(); // it takes no strokes
        QVERIFY(m_driver->session().take()->keeps[0].steps.empty());
        m_driver->canvas().setGlance({}, {});
        QCOMPARE(picture(*m_driver), before);
        // With the photo there, nothing of it is left.
        m_driver->canvas().setGlance(red, {3000, 2000});
        QVERIFY(m_driver->open(photoCopy()));
        QCOMPARE(picture(*m_driver), before);
    }

    void theExportIsWhatTheCommandLineRenders()
    {
        QVERIFY(m_driver->open(photoCopy()));
        paintSpool();
        QVERIFY(m_driver->save(at("work.buttonhole")));
        ExportSettings settings;
        settings.format = ExportSettings::Format::Png;
        settings.bits = 16;
        QVERIFY(m_driver->exportTo(at("window.png"), settings));
        QProcess cli;
        cli.start(QStringLiteral(BUTTONHOLE_CLI),
                  {QStringLiteral("render"), at("work.buttonhole"), QStringLiteral("-o"),
                   at("cli.png"), QStringLiteral("--bits"), QStringLiteral("16"),
                   QStringLiteral("--quiet")});
        QVERIFY(cli.waitForFinished(60000));
        QCOMPARE(cli.exitCode(), 0);
        QCOMPARE(QImage(at("window.png")), QImage(at("cli.png")));

        // And what the canvas shows at 100 % is what was exported.
        m_driver->canvas().restoreView(1, {1325, 830});
        settings.bits = 8;
        QVERIFY(m_driver->exportTo(at("8.png"), settings));
        const QImage exported(at("8.png"));
        const QImage seen = picture(*m_driver);
        for (int y = 760; y < 900; y += 7)
            for (int x = 1250; x < 1400; x += 3)
                QCOMPARE(QColor(exported.pixel(x, y)), seen.pixelColor(m_driver->at(x, y)));
    }

    void unsavedWorkIsAskedFor()
    {
        QVERIFY(m_driver->open(photoCopy()));
        paintSpool();
        window().close();
        QVERIFY(window().isVisible());
        QVERIFY(answer("unsaved", "stay").contains(QStringLiteral("spools.jpg")));
        QVERIFY(window().isVisible() && m_driver->session().isUnsaved());

        window().openPath(demo("button-jar.jpg"));
        QVERIFY(!answer("unsaved", "stay").isEmpty());
        QCOMPARE(QFileInfo(m_driver->session().photoPath()).fileName(),
                 QStringLiteral("spools.jpg"));

        QVERIFY(m_driver->save(at("work.buttonhole")));
        paintSpool();
        window().close();
        QVERIFY(!answer("unsaved", "save").isEmpty()); // then it is saved, then the window closes
        QTRY_VERIFY(!window().isVisible());
        QVERIFY(!m_driver->session().isUnsaved());
    }

    void thrownAwayWorkIsNotWritten()
    {
        QVERIFY(m_driver->open(photoCopy()));
        QVERIFY(m_driver->save(at("work.buttonhole")));
        const auto before = bytesOf(at("work.buttonhole"));
        paintSpool();
        window().close();
        QVERIFY(!answer("unsaved", "throw").isEmpty());
        QVERIFY(!window().isVisible());
        QCOMPARE(bytesOf(at("work.buttonhole")), before);
    }

    void aSaveInHandBelongsToTheWorkItBeganWith()
    {
        QVERIFY(m_driver->open(photoCopy()));
        paintSpool();
        QSignalSpy saved(&window(), &app::MainWindow::saved);
        window().saveTo(at("work.buttonhole"));
        m_driver->paint({{600, 600}}); // goes on while it is being written
        window().saveTo(at("work.buttonhole"));
        m_driver->paint({{700, 600}});
        QTRY_COMPARE_WITH_TIMEOUT(saved.size(), 2, 30000);
        QVERIFY(m_driver->session().isUnsaved());
        m_driver->key(Qt::Key_Z, Qt::ControlModifier);
        QVERIFY(!m_driver->session().isUnsaved());
    }

    void droppedFilesOpen()
    {
        QMimeData data;
        data.setUrls({QUrl::fromLocalFile(photoCopy())});
        QSignalSpy opened(&window(), &app::MainWindow::opened);
        QDragEnterEvent enter({10, 10}, Qt::CopyAction, &data, Qt::LeftButton, Qt::NoModifier);
        QCoreApplication::sendEvent(&window(), &enter);
        QVERIFY(enter.isAccepted());
        QDropEvent drop({10, 10}, Qt::CopyAction, &data, Qt::LeftButton, Qt::NoModifier);
        QCoreApplication::sendEvent(&window(), &drop);
        QVERIFY(opened.wait(30000));
        QVERIFY(window().windowTitle().contains(QStringLiteral("spools.jpg")));
    }

    void recentFilesAreOffered()
    {
        QVERIFY(m_driver->open(photoCopy()));
        const auto actions = window().actions()["recent"]->menu()->actions();
        QVERIFY(!actions.isEmpty());
        QVERIFY(actions.front()->text().contains(QStringLiteral("spools.jpg")));
    }

    void aMissingPhotoIsAskedForAndFoundByItsBytes()
    {
        QVERIFY(m_driver->open(photoCopy()));
        paintSpool();
        QVERIFY(m_driver->save(at("work.buttonhole")));
        QVERIFY(QFile::rename(at("spools.jpg"), at("renamed.jpg")));
        QVERIFY(WindowDriver(at("a")).open(at("work.buttonhole"))); // beside it, by its hash
        const QTemporaryDir elsewhere;
        QVERIFY(QFile::rename(at("renamed.jpg"), elsewhere.filePath(QStringLiteral("p.jpg"))));
        WindowDriver other(at("b"));
        QVERIFY(!other.open(at("work.buttonhole")));
        bool asked = false;
        for (const auto *box : other.window().findChildren<QMessageBox *>())
            asked = asked || box->text().contains(QStringLiteral("not at its place"));
        QVERIFY(asked);
    }

    void badFilesAreRefusedByName_data()
    {
        QTest::addColumn<QString>("name");
        QTest::addColumn<QByteArray>("bytes");
        QTest::newRow("empty") << QStringLiteral("empty.jpg") << QByteArray();
        QTest::newRow("text") << QStringLiteral("text.jpg") << QByteArray("not a photo at all\n");
        QTest::newRow("broken work")
            << QStringLiteral("broken.buttonhole") << QByteArray("PK\x03\x04 and so on");
        QTest::newRow("not there") << QStringLiteral("absent.jpg") << QByteArray("-");
    }
    void badFilesAreRefusedByName()
    {
        QFETCH(QString, name);
        QFETCH(QByteArray, bytes);
        QVERIFY(m_driver->open(photoCopy()));
        paintSpool();
        QVERIFY(m_driver->save(at("work.buttonhole")));
        if (bytes != "-")
            writeFile(at(name), bytes.constData(), size_t(bytes.size()));
        QVERIFY(!m_driver->open(at(name)));
        QVERIFY(answer("error", nullptr).contains(name));
        QVERIFY(m_driver->session().hasPhoto()); // what was open stays open
        QCOMPARE(maskAt(1325, 860), uint16_t(58982));
    }

    void aFailedSaveLosesNothing()
    {
        QVERIFY(m_driver->open(photoCopy()));
        paintSpool();
        QVERIFY(!m_driver->save(at("no-such-folder/work.buttonhole")));
        QVERIFY(answer("error", nullptr).contains(QStringLiteral("work.buttonhole")));
        QVERIFY(m_driver->session().isUnsaved());
        QVERIFY(m_driver->save(at("work.buttonhole")));
        // Onto the photo itself: refused, the photo as it was.
        const auto photo = bytesOf(photoCopy());
        QVERIFY(!m_driver->exportTo(photoCopy()));
        QVERIFY(!answer("error", nullptr).isEmpty());
        QVERIFY(!m_driver->save(photoCopy()));
        QCOMPARE(bytesOf(photoCopy()), photo);
    }
};

BUTTONHOLE_TEST(TstFiles)

#include "tst_files.moc"

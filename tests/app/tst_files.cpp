#include "delivery/export_dialog.h"
#include "window/main_window.h"
#include "window/status_row.h"

#include "registry.h"
#include "sample_files.h"
#include "window_driver.h"

#include <QDir>
#include <QDropEvent>
#include <QFileDialog>
#include <QLineEdit>
#include <QMenu>
#include <QMessageBox>
#include <QMimeData>
#include <QProcess>
#include <QPushButton>
#include <QSignalSpy>
#include <QTemporaryDir>
#include <QTimer>

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

    /// Types a name into the dialog that is open and takes it.
    void type(const QString &path)
    {
        auto *dialog = window().findChild<QFileDialog *>();
        QVERIFY(dialog);
        auto *line = dialog->findChild<QLineEdit *>();
        line->setText(path);
        QTest::keyClick(line, Qt::Key_Return);
        QTRY_VERIFY(!dialog->isVisible());
        QCoreApplication::sendPostedEvents(nullptr, QEvent::DeferredDelete);
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
        QVERIFY(again.canvas().seen().split);
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

        window().opening().openPath(demo("button-jar.jpg"));
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
        QSignalSpy saved(&window().saving(), &app::Saving::saved);
        window().saving().saveTo(at("work.buttonhole"));
        m_driver->paint({{600, 600}}); // goes on while it is being written
        window().saving().saveTo(at("work.buttonhole"));
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
        QSignalSpy opened(&window().opening(), &app::Opening::opened);
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

    void savedNamesHaveTheirEnding_data()
    {
        QTest::addColumn<QString>("typed");
        QTest::addColumn<QString>("written");
        QTest::newRow("none") << "work"
                              << "work.buttonhole";
        QTest::newRow("a number") << "v1.2"
                                  << "v1.2.buttonhole";
        QTest::newRow("a word") << "work.old"
                                << "work.old.buttonhole";
        QTest::newRow("a photo's") << "loom.jpg"
                                   << "loom.jpg.buttonhole";
        QTest::newRow("in capitals") << "LOOM.BUTTONHOLE"
                                     << "LOOM.BUTTONHOLE";
    }
    void savedNamesHaveTheirEnding()
    {
        QFETCH(QString, typed);
        QFETCH(QString, written);
        QVERIFY(QFile::copy(demo("loom.jpg"), at("loom.jpg")));
        QVERIFY(m_driver->open(photoCopy()));
        QSignalSpy saved(&window().saving(), &app::Saving::saved);
        window().actions()["save-as"]->trigger();
        if (typed == QLatin1String("loom.jpg")) // the dialog asks about the photo: let it
            QTimer::singleShot(200, this, [this] {
                if (auto *ask = window().findChild<QFileDialog *>()->findChild<QMessageBox *>())
                    QTest::keyClick(ask, Qt::Key_Y, Qt::AltModifier);
            });
        type(at(typed));
        QVERIFY(saved.size() == 1 || saved.wait(30000));
        QVERIFY(saved.at(0).at(0).toBool());
        QVERIFY(QFile::exists(at(written)));
        QCOMPARE(bytesOf(at("loom.jpg")), bytesOf(demo("loom.jpg")));
        WindowDriver again(at("other"));
        QVERIFY(again.open(at(written)));
    }

    void exportedNamesHaveTheirFormatsEnding_data()
    {
        QTest::addColumn<QString>("typed");
        QTest::addColumn<QString>("written");
        QTest::newRow("another format's") << "o.png"
                                          << "o.jpg";
        QTest::newRow("a number") << "v1.2"
                                  << "v1.2.jpg";
        QTest::newRow("in capitals") << "O.JPEG"
                                     << "O.JPEG";
    }
    void exportedNamesHaveTheirFormatsEnding()
    {
        QFETCH(QString, typed);
        QFETCH(QString, written);
        QVERIFY(m_driver->open(photoCopy()));
        QSignalSpy exported(&window().exporting(), &app::Exporting::exported);
        window().actions()["export"]->trigger();
        auto *dialog = window().findChild<app::ExportDialog *>();
        QVERIFY(dialog);
        QTest::keyClick(dialog, Qt::Key_Return);
        QTRY_VERIFY(window().findChild<QFileDialog *>());
        type(at(typed));
        QVERIFY(exported.size() == 1 || exported.wait(30000));
        QVERIFY(exported.at(0).at(0).toBool());
        QVERIFY(QFile::exists(at(written)));
        const auto bytes = bytesOf(at(written));
        QCOMPARE(int(bytes[0]), 0xFF); // JPEG
        QCOMPARE(QDir(m_folder->path()).entryList({QStringLiteral("v1.2")}).size(), 0);
        QVERIFY(!QFile::exists(at("o.png")));
    }

    void whatStandsThereUnderTheWholeNameIsAskedAbout()
    {
        QVERIFY(m_driver->open(photoCopy()));
        QVERIFY(m_driver->save(at("v1.2.buttonhole")));
        const auto before = bytesOf(at("v1.2.buttonhole"));
        paintSpool();
        window().actions()["save-as"]->trigger();
        type(at("v1.2"));
        QVERIFY(answer("in-the-way", "stay").contains(QStringLiteral("v1.2.buttonhole")));
        QCOMPARE(bytesOf(at("v1.2.buttonhole")), before);
    }

    void twoWindowsOnOneWorkLoseNothing_data()
    {
        QTest::addColumn<QString>("button");
        QTest::newRow("mine beside it") << "beside";
        QTest::newRow("not now") << "stay";
    }
    void twoWindowsOnOneWorkLoseNothing()
    {
        QFETCH(QString, button);
        QVERIFY(m_driver->open(photoCopy()));
        QVERIFY(m_driver->save(at("work.buttonhole")));
        WindowDriver other(at("other"));
        QVERIFY(other.open(at("work.buttonhole")));
        QVERIFY(other.window().status().said().contains(QStringLiteral("another window")));
        paintSpool();
        QVERIFY(m_driver->save(at("work.buttonhole")));
        const auto mine = bytesOf(at("work.buttonhole"));
        other.paint({{700, 700}});
        QVERIFY(!other.save(at("work.buttonhole")));
        QCOMPARE(bytesOf(at("work.buttonhole")), mine);
        QVERIFY(other.session().isUnsaved());
        auto *box = other.window().findChild<QMessageBox *>(QStringLiteral("conflict"));
        QVERIFY(box);
        QVERIFY(!box->findChild<QPushButton *>(QStringLiteral("rename"))); // it is in use
        QSignalSpy saved(&other.window().saving(), &app::Saving::saved);
        QTest::mouseClick(box->findChild<QPushButton *>(button), Qt::LeftButton);
        if (button == QLatin1String("stay")) {
            QVERIFY(other.session().isUnsaved());
            return;
        }
        QVERIFY(saved.size() == 1 || saved.wait(30000));
        QCOMPARE(other.session().containerPath(), at("work 2.buttonhole"));
        QVERIFY(!other.session().isUnsaved());
        QCOMPARE(bytesOf(at("work.buttonhole")), mine);
    }

    /// Written to from outside while it is open here: the other is kept under a name of its own.
    void whatCameFromOutsideIsKept()
    {
        QVERIFY(m_driver->open(photoCopy()));
        QVERIFY(m_driver->save(at("work.buttonhole")));
        paintSpool();
        writeFile(at("work.buttonhole"), "PK from elsewhere", 17);
        QVERIFY(!m_driver->save(at("work.buttonhole")));
        QSignalSpy saved(&window().saving(), &app::Saving::saved);
        QVERIFY(answer("conflict", "rename").contains(QStringLiteral("work.buttonhole")));
        QVERIFY(saved.size() == 1 || saved.wait(30000));
        QVERIFY(!m_driver->session().isUnsaved());
        QCOMPARE(bytesOf(at("work 2.buttonhole")).size(), size_t(17));
        WindowDriver again(at("other"));
        QVERIFY(again.open(at("work.buttonhole")));
    }

    void savingTwiceInARowIsNoConflict()
    {
        QVERIFY(m_driver->open(photoCopy()));
        for (int i = 0; i < 3; ++i) {
            m_driver->paint({{600 + 40.0 * i, 600}});
            QVERIFY(m_driver->save(at("work.buttonhole")));
        }
        QSignalSpy saved(&window().saving(), &app::Saving::saved);
        window().saving().saveTo(at("work.buttonhole"));
        m_driver->paint({{800, 600}});
        window().saving().saveTo(at("work.buttonhole")); // asked for while that is being written
        QTRY_COMPARE_WITH_TIMEOUT(saved.size(), 2, 30000);
        QVERIFY(saved.at(1).at(0).toBool());
    }

    void aPhotoThatMovedBeforeTheFirstSaveIsKnown()
    {
        QVERIFY(m_driver->open(photoCopy()));
        QVERIFY(QFile::rename(at("spools.jpg"), at("later.jpg")));
        QVERIFY(m_driver->save(at("work.buttonhole")));
        WindowDriver again(at("other"));
        QVERIFY(again.open(at("work.buttonhole"))); // by its bytes
        QCOMPARE(again.session().photoPath(), at("later.jpg"));
    }

    void aPhotoReplacedMeanwhileIsSaid()
    {
        QVERIFY(m_driver->open(photoCopy()));
        paintSpool();
        QVERIFY(QFile::rename(at("spools.jpg"), at("own.jpg")));
        auto other = bytesOf(at("own.jpg"));
        other.back() ^= 1;
        writeFile(at("spools.jpg"), other.data(), other.size());
        QVERIFY(m_driver->save(at("work.buttonhole")));
        QVERIFY(window().status().said().contains(QStringLiteral("replaced")));
        WindowDriver again(at("other"));
        QVERIFY(again.open(at("work.buttonhole")));
        QCOMPARE(again.session().photoPath(), at("own.jpg")); // the one that was opened
    }

    void aWriteProtectedWorkIsLeftAlone()
    {
        QVERIFY(m_driver->open(photoCopy()));
        QVERIFY(m_driver->save(at("work.buttonhole")));
        QVERIFY(QFile::setPermissions(at("work.buttonhole"), QFile::ReadOwner));
        const auto before = bytesOf(at("work.buttonhole"));
        paintSpool();
        QVERIFY(!m_driver->save(at("work.buttonhole")));
        QVERIFY(answer("error", nullptr).contains(QStringLiteral("write-protected")));
        QCOMPARE(bytesOf(at("work.buttonhole")), before);
        QVERIFY(m_driver->session().isUnsaved());
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

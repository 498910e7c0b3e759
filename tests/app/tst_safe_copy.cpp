#include "window/application.h"
#include "window/main_window.h"
#include "window/status_row.h"

#include "registry.h"
#include "window_driver.h"

#include <QDialog>
#include <QDir>
#include <QListWidget>
#include <QMessageBox>
#include <QProcess>
#include <QPushButton>
#include <QSignalSpy>
#include <QTemporaryDir>

#include <csignal>

using namespace buttonhole;
using namespace buttonhole::test;

/// Work that was not saved when its window went without being closed.
class TstSafeCopy : public QObject
{
    Q_OBJECT
    std::unique_ptr<QTemporaryDir> m_folder;
    uint16_t m_painted = 0; ///< by crash(), in the middle of the spool

    QString at(const char *name) const { return m_folder->filePath(QLatin1String(name)); }
    static QStringList copies(const QString &folder)
    {
        return QDir(folder + QStringLiteral("/unsaved"))
            .entryList({QStringLiteral("*.buttonhole")}, QDir::Files);
    }
    static bool copied(WindowDriver &driver)
    {
        QSignalSpy spy(&driver.window().safeCopy(), &app::SafeCopy::copied);
        return spy.wait(20000);
    }
    static void paintSpool(WindowDriver &driver)
    {
        driver.window().brush().setTip({150, 0.4F, 1, 0.9F, PressureSteers::Size});
        driver.paint({{1325, 780}, {1325, 880}});
    }
    static uint16_t maskAt(WindowDriver &driver, int x, int y)
    {
        return maskOf(driver.session().take()->keeps[0], {x, y, x + 1, y + 1})[0];
    }
    /// What a crash would leave of a window in which the spool was painted: in `folder`.
    void crash(const QString &folder, const QString &savedAs = {})
    {
        WindowDriver driver(at("crashed"));
        driver.window().safeCopy().setDelay(50);
        QVERIFY(driver.open(demo("spools.jpg")));
        if (!savedAs.isEmpty())
            QVERIFY(driver.save(savedAs));
        paintSpool(driver);
        QVERIFY(copied(driver));
        m_painted = maskAt(driver, 1325, 830);
        QVERIFY(m_painted > 30000);
        QVERIFY(QDir().mkpath(folder + QStringLiteral("/unsaved")));
        for (const QString &name : copies(at("crashed")))
            QVERIFY(QFile::copy(at("crashed") + QStringLiteral("/unsaved/") + name,
                                folder + QStringLiteral("/unsaved/") + name));
    }
    static QListWidget *listOf(WindowDriver &driver)
    {
        auto *dialog = driver.window().findChild<QDialog *>(QStringLiteral("left"));
        return dialog ? dialog->findChild<QListWidget *>() : nullptr;
    }
    static void press(WindowDriver &driver, const char *button)
    {
        auto *dialog = driver.window().findChild<QDialog *>(QStringLiteral("left"));
        QTest::mouseClick(dialog->findChild<QPushButton *>(QLatin1String(button)), Qt::LeftButton);
        QCoreApplication::sendPostedEvents(nullptr, QEvent::DeferredDelete);
    }
    /// Waits for the offer and answers it; gives its first line.
    static QString answer(WindowDriver &driver, const char *button)
    {
        driver.window().opening().offerLeftWork();
        if (!QTest::qWaitFor([&] { return listOf(driver) != nullptr; }))
            return {};
        const QString text = listOf(driver)->item(0)->text();
        press(driver, button);
        return text;
    }

    /// In a process of its own, which is killed meanwhile. Says when there is a copy.
    static void paintUntilKilled(const QString &folder)
    {
        WindowDriver driver(folder);
        driver.window().safeCopy().setDelay(50);
        QVERIFY(driver.open(demo("spools.jpg")));
        for (;;) {
            paintSpool(driver);
            QVERIFY(copied(driver));
            std::puts("copied");
            std::fflush(stdout);
        }
    }

private Q_SLOTS:
    void init() { m_folder = std::make_unique<QTemporaryDir>(); }
    void cleanup() { m_folder.reset(); }

    void aCopyIsThereWhileWorkIsUnsaved()
    {
        WindowDriver driver(at("a"));
        driver.window().safeCopy().setDelay(50);
        QVERIFY(driver.open(demo("spools.jpg")));
        QCOMPARE(copies(at("a")).size(), 0);
        paintSpool(driver);
        QVERIFY(copied(driver));
        QCOMPARE(copies(at("a")).size(), 1);
        paintSpool(driver); // the same copy, once more
        QVERIFY(copied(driver));
        QCOMPARE(copies(at("a")).size(), 1);
        QVERIFY(driver.save(at("work.buttonhole")));
        QCOMPARE(copies(at("a")).size(), 0);
        paintSpool(driver);
        QVERIFY(copied(driver));
        QCOMPARE(copies(at("a")).size(), 1);
        driver.key(Qt::Key_Z, Qt::ControlModifier); // back to what is saved
        QTRY_COMPARE(copies(at("a")).size(), 0);
    }

    /// Back to what is saved and forth again while a copy is being written: that one goes, and
    /// another is made.
    void undoAndRedoMeanwhileLeaveACopy()
    {
        WindowDriver driver(at("a"));
        driver.window().safeCopy().setDelay(50);
        QVERIFY(driver.open(demo("spools.jpg")));
        paintSpool(driver);
        const QDir folder(at("a") + QStringLiteral("/unsaved"));
        while (folder.entryList({QStringLiteral("*.lock")}, QDir::Files).isEmpty())
            QCoreApplication::processEvents(); // until it has begun
        driver.session().undo();
        QVERIFY(!driver.session().isUnsaved());
        driver.session().redo();
        QVERIFY(driver.session().isUnsaved());
        QVERIFY(copied(driver));
        QCOMPARE(copies(at("a")).size(), 1);
    }

    void leftWorkIsTakenUp()
    {
        crash(at("b"), at("work.buttonhole"));
        WindowDriver driver(at("b"));
        QSignalSpy opened(&driver.window().opening(), &app::Opening::opened);
        QVERIFY(answer(driver, "take").contains(QStringLiteral("work.buttonhole")));
        QVERIFY(opened.wait(60000));
        driver.settle();
        QCOMPARE(int(maskAt(driver, 1325, 830)), int(m_painted));
        QVERIFY(driver.session().isUnsaved());
        QCOMPARE(driver.session().containerPath(), at("work.buttonhole"));
        QCOMPARE(copies(at("b")).size(), 1); // until it is saved
        driver.window().actions()["save"]->trigger();
        QTRY_VERIFY(!driver.session().isUnsaved());
        QTRY_COMPARE(copies(at("b")).size(), 0);
        WindowDriver again(at("c"));
        QVERIFY(again.open(at("work.buttonhole")));
        QCOMPARE(maskAt(again, 1325, 830), m_painted);
    }

    void leftWorkCanWaitOrBeThrownAway()
    {
        crash(at("b"));
        WindowDriver driver(at("b"));
        QVERIFY(answer(driver, "leave").contains(QStringLiteral("spools.jpg")));
        QCOMPARE(copies(at("b")).size(), 1);
        QVERIFY(!driver.session().hasPhoto());
        QVERIFY(!answer(driver, "throw").isEmpty());
        QCOMPARE(copies(at("b")).size(), 0);
    }

    void aWindowThatIsOpenHasLeftNothing()
    {
        WindowDriver driver(at("a"));
        driver.window().safeCopy().setDelay(50);
        QVERIFY(driver.open(demo("spools.jpg")));
        paintSpool(driver);
        QVERIFY(copied(driver));
        WindowDriver other(at("a"));
        other.window().opening().offerLeftWork();
        QTRY_VERIFY(other.window().jobs().isIdle());
        QVERIFY(!listOf(other));
        other.window().actions()["left-work"]->trigger(); // asked for, it says so
        QTRY_VERIFY(other.window().status().said().contains(QStringLiteral("nothing was left")));
    }

    void allThatWasLeftIsListed()
    {
        crash(at("b"), at("first.buttonhole"));
        crash(at("b"), at("second.buttonhole"));
        crash(at("b"));
        QCOMPARE(copies(at("b")).size(), 3);
        WindowDriver driver(at("b"));
        driver.window().opening().offerLeftWork();
        QTRY_VERIFY(listOf(driver));
        QCOMPARE(listOf(driver)->count(), 3);
        listOf(driver)->setCurrentRow(1);
        const QString thrown = listOf(driver)->currentItem()->text();
        press(driver, "throw");
        QTRY_COMPARE(listOf(driver)->count(), 2);
        QCOMPARE(copies(at("b")).size(), 2);
        QVERIFY(listOf(driver)->findItems(thrown, Qt::MatchExactly).isEmpty());
        QSignalSpy opened(&driver.window().opening(), &app::Opening::opened);
        press(driver, "take");
        QVERIFY(opened.wait(60000));
        QCOMPARE(int(maskAt(driver, 1325, 830)), int(m_painted));
        WindowDriver other(at("b")); // the third is for another window
        QVERIFY(!answer(other, "leave").isEmpty());
        QCOMPARE(copies(at("b")).size(), 2);
    }

    void aSessionThatEndsLeavesACopy()
    {
        {
            WindowDriver driver(at("a"));
            QVERIFY(driver.open(demo("spools.jpg")));
            connect(qobject_cast<app::Application *>(qApp), &app::Application::endAsked,
                    &driver.window(), &app::MainWindow::endNow);
            paintSpool(driver);
            m_painted = maskAt(driver, 1325, 830);
            QCOMPARE(copies(at("a")).size(), 0); // none is due yet
            QVERIFY(std::raise(SIGTERM) == 0);
            QTRY_VERIFY(!driver.window().isVisible());
        }
        QCOMPARE(copies(at("a")).size(), 1);
        WindowDriver again(at("a"));
        QSignalSpy opened(&again.window().opening(), &app::Opening::opened);
        QVERIFY(answer(again, "take").contains(QStringLiteral("spools.jpg")));
        QVERIFY(opened.wait(60000));
        QCOMPARE(int(maskAt(again, 1325, 830)), int(m_painted));
    }

    /// The file was written to after the crash: taking up what was left does not run over that.
    void takenUpWorkDoesNotRunOverWhatCameAfter()
    {
        crash(at("b"), at("work.buttonhole"));
        {
            WindowDriver other(at("c"));
            QVERIFY(other.open(at("work.buttonhole")));
            other.paint({{500, 500}});
            QVERIFY(other.save(at("work.buttonhole")));
        }
        const auto before = bytesOf(at("work.buttonhole"));
        WindowDriver driver(at("b"));
        QSignalSpy opened(&driver.window().opening(), &app::Opening::opened);
        QVERIFY(!answer(driver, "take").isEmpty());
        QVERIFY(opened.wait(60000));
        QVERIFY(!driver.save(at("work.buttonhole")));
        QVERIFY(driver.window().findChild<QMessageBox *>(QStringLiteral("conflict")));
        QCOMPARE(bytesOf(at("work.buttonhole")), before);
    }

    /// A broken copy is neither offered nor removed, and the next one is.
    /// As often as BUTTONHOLE_KILLS says (scripts/kill-test), each time a bit later.
    void aKilledWindowComesBack()
    {
        constexpr const char *kPaintsIn = "BUTTONHOLE_PAINTS_IN";
        if (qEnvironmentVariableIsSet(kPaintsIn))
            return paintUntilKilled(qEnvironmentVariable(kPaintsIn));
        const int asked = qEnvironmentVariableIntValue("BUTTONHOLE_KILLS");
        const int times = asked > 0 ? asked : 2;
        for (int i = 0; i < times; ++i) {
            const QString folder = at(QByteArray("killed-" + QByteArray::number(i)).constData());
            QProcessEnvironment all = QProcessEnvironment::systemEnvironment();
            all.insert(QLatin1String(kPaintsIn), folder);
            QProcess process;
            process.setProcessEnvironment(all);
            process.start(
                QCoreApplication::applicationFilePath(),
                {QStringLiteral("TstSafeCopy"), QStringLiteral("aKilledWindowComesBack")});
            QByteArray said;
            while (!said.contains("copied") && process.waitForReadyRead(60000))
                said += process.readAllStandardOutput();
            QVERIFY2(said.contains("copied"), said.constData());
            QTest::qWait(17 * i);
            process.kill(); // SIGKILL
            QVERIFY(process.waitForFinished());
            WindowDriver driver(folder);
            QSignalSpy opened(&driver.window().opening(), &app::Opening::opened);
            QVERIFY(answer(driver, "take").contains(QStringLiteral("spools")));
            QVERIFY(opened.wait(60000));
            driver.settle();
            QVERIFY(maskAt(driver, 1325, 830) > 30000);
        }
    }

    void brokenCopiesStayWhereTheyAre()
    {
        crash(at("b"));
        QFile broken(at("b") + QStringLiteral("/unsaved/broken.buttonhole"));
        QVERIFY(broken.open(QFile::WriteOnly));
        broken.write("PK, but not for long");
        broken.close();
        WindowDriver driver(at("b"));
        QVERIFY(answer(driver, "throw").contains(QStringLiteral("spools.jpg")));
        QTRY_VERIFY(driver.window().jobs().isIdle());
        QCOMPARE(copies(at("b")), QStringList{QStringLiteral("broken.buttonhole")});
    }

    void noPlaceForACopyIsSaid()
    {
        QVERIFY(QDir().mkpath(at("a")));
        QFile inTheWay(at("a") + QStringLiteral("/unsaved"));
        QVERIFY(inTheWay.open(QFile::WriteOnly));
        inTheWay.close();
        WindowDriver driver(at("a"));
        driver.window().safeCopy().setDelay(50);
        QVERIFY(driver.open(demo("spools.jpg")));
        const int width = driver.window().minimumSizeHint().width();
        QSignalSpy failed(&driver.window().safeCopy(), &app::SafeCopy::failed);
        paintSpool(driver);
        QVERIFY(failed.wait(20000));
        QVERIFY(driver.window().status().said().contains(QStringLiteral("Unsaved")));
        QTRY_VERIFY(driver.window().jobs().isIdle());
        QCOMPARE(driver.window().minimumSizeHint().width(), width); // long words ask for no room
        QVERIFY(driver.session().isUnsaved());
        QSignalSpy tries(&driver.window().jobs(), &app::Jobs::changed);
        QTRY_VERIFY(tries.count() >= 6); // a try begins and ends
        QCOMPARE(failed.count(), 1);     // not again and again
    }
};

BUTTONHOLE_TEST(TstSafeCopy)

#include "tst_safe_copy.moc"

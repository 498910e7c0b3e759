#include "delivery/delivering.h"
#include "delivery/delivery_dialog.h"
#include "delivery/print_dialog.h"
#include "delivery/print_preview.h"
#include "document/container.h"
#include "document/preset_store.h"
#include "prepare_fixture.h"
#include "presets/preset_card.h"
#include "registry.h"
#include "sample_files.h"
#include "samples.h"
#include "sheet/compare_dialog.h"
#include "sheet/sheet.h"

#include <QAbstractButton>
#include <QAction>
#include <QCheckBox>
#include <QComboBox>
#include <QDialogButtonBox>
#include <QDir>
#include <QFileDialog>
#include <QLabel>
#include <QLineEdit>
#include <QListView>
#include <QMenu>
#include <QMessageBox>
#include <QMimeData>
#include <QPushButton>
#include <QSpinBox>
#include <QStandardPaths>

using namespace buttonhole;
using test::WindowDriver;

/// The sheet of the job's photos, and what is done to many.
class TstSheet : public test::PrepareFixture
{
    Q_OBJECT
    QTemporaryDir m_photos;

    QString at(const QString &name) const { return m_photos.filePath(name); }
    QString at(const char *name) const { return at(QString::fromLatin1(name)); }
    app::Sheet &sheet() { return child<app::Sheet>("sheet"); }
    QListView &view() { return child<QListView>("sheetView"); }
    void giveFolder()
    {
        QMimeData data;
        data.setUrls({QUrl::fromLocalFile(m_photos.path())});
        QDragEnterEvent enter({10, 10}, Qt::CopyAction, &data, Qt::LeftButton, Qt::NoModifier);
        QCoreApplication::sendEvent(&m_driver->window(), &enter);
        QDropEvent drop({10, 10}, Qt::CopyAction, &data, Qt::LeftButton, Qt::NoModifier);
        QCoreApplication::sendEvent(&m_driver->window(), &drop);
        QTRY_VERIFY(sheet().isVisible());
    }
    QModelIndex rowOf(const char *name)
    {
        for (int i = 0; i < view().model()->rowCount(); ++i)
            if (const QModelIndex index = view().model()->index(i, 0);
                index.data().toString() == QLatin1String(name))
                return index;
        return {};
    }
    QString stateOf(const char *name)
    {
        const int state = rowOf(name).data(app::SheetModel::StateRole).toInt();
        return app::SheetModel::stateWord(app::SheetModel::State(state));
    }
    void select(std::initializer_list<const char *> names)
    {
        view().clearSelection();
        for (const char *name : names)
            QTest::mouseClick(view().viewport(), Qt::LeftButton, Qt::ControlModifier,
                              view().visualRect(rowOf(name)).center());
    }
    static QString jobFile()
    {
        return QStandardPaths::writableLocation(QStandardPaths::GenericDataLocation) +
               QStringLiteral("/buttonhole/job.json");
    }
    void closeReport(const QString &begin)
    {
        QMessageBox *box = nullptr;
        QTRY_VERIFY_WITH_TIMEOUT(
            (box = m_driver->window().findChild<QMessageBox *>(QStringLiteral("deliveryReport"))) &&
                box->isVisible(),
            60000);
        QVERIFY2(box->text().startsWith(begin), qPrintable(box->text()));
        box->buttons().first()->click();
        QTRY_VERIFY(!m_driver->window().findChild<QMessageBox *>(QStringLiteral("deliveryReport")));
        m_driver->window().activateWindow();
    }
    /// 44 photos, on their way into a folder beside them.
    app::Delivering &deliverMany(const char *folder)
    {
        for (int i = 20; i < 60; ++i)
            test::writeJpeg(at(QStringLiteral("spool-%1.jpg").arg(i)),
                            test::makePicture<uint8_t>(1200, 900));
        giveFolder();
        auto &delivering = child<app::Delivering>("delivering");
        Delivery delivery;
        delivery.where = Delivery::Where::Subfolder;
        delivery.folder = folder;
        delivering.deliver(sheet().chosen(), delivery);
        return delivering;
    }

private Q_SLOTS:
    void init()
    {
        QFile::remove(jobFile());
        QDir(m_photos.path()).removeRecursively();
        QVERIFY(QDir().mkpath(m_photos.path()));
        for (const char *name : {"spool-1.jpg", "spool-2.jpg", "spool-10.jpg"})
            test::writeJpeg(at(name), test::makePicture<uint8_t>(300, 200));
        QVERIFY(QFile::copy(test::demo("mill-pond.jpg"), at("mill-pond.jpg")));
        m_driver = std::make_unique<WindowDriver>(m_folder.path());
    }
    void cleanup() { m_driver.reset(); }

    void aFolderMakesAJob()
    {
        giveFolder();
        QTRY_COMPARE(view().model()->rowCount(), 4);
        QCOMPARE(view().model()->index(2, 0).data().toString(), QStringLiteral("spool-2.jpg"));
        QTRY_COMPARE_WITH_TIMEOUT(stateOf("spool-1.jpg"), QStringLiteral("untouched"), 30000);
        QTRY_COMPARE_WITH_TIMEOUT(sheet().model().pending(), 0, 60000);
        for (int i = 0; i < 4; ++i) {
            const auto image = view().model()->index(i, 0).data(app::SheetModel::PictureRole);
            QVERIFY(!image.value<QImage>().isNull());
        }
        // By what is typed.
        QTest::keyClicks(&child<QLineEdit>("sheetText"), QStringLiteral("pond"));
        QCOMPARE(view().model()->rowCount(), 1);
        QVERIFY(child<QLabel>("sheetCount").text().contains(QStringLiteral("1 of 4")));
        child<QLineEdit>("sheetText").clear();
        child<QComboBox>("sheetState").setCurrentIndex(2); // not saved yet
        QCOMPARE(view().model()->rowCount(), 0);
        child<QComboBox>("sheetState").setCurrentIndex(0);

        // Opened, changed, looked at from the sheet again.
        view().doItemsLayout();
        select({"mill-pond.jpg"});
        QTest::keyClick(&view(), Qt::Key_Return);
        QTRY_VERIFY(!sheet().isVisible());
        QTRY_VERIFY_WITH_TIMEOUT(m_driver->session().hasPhoto(), 30000);
        QCOMPARE(m_driver->session().photoPath(), at("mill-pond.jpg"));
        m_driver->key(Qt::Key_K, Qt::ControlModifier);
        m_driver->key(Qt::Key_J);
        QTRY_VERIFY(sheet().isVisible());
        QTRY_COMPARE_WITH_TIMEOUT(stateOf("mill-pond.jpg"), QStringLiteral("not saved yet"), 30000);
        QTest::keyClick(&view(), Qt::Key_Escape);
        QTRY_VERIFY(!sheet().isVisible());
        child<QAction>("next-photo").trigger(); // asks about the unsaved work
        QTRY_VERIFY(m_driver->window().findChild<QMessageBox *>());
        for (QAbstractButton *button : m_driver->window().findChild<QMessageBox *>()->buttons())
            if (button->text().contains(QStringLiteral("Throw")) ||
                button->text().contains(QStringLiteral("without")))
                button->click();
    }

    void manyAreDeliveredAndReported()
    {
        QFile broken(at("torn.jpg"));
        QVERIFY(broken.open(QIODevice::WriteOnly) && broken.write("\xFF\xD8\xFF torn") > 0);
        broken.close();
        giveFolder();
        select({"spool-1.jpg", "spool-2.jpg", "torn.jpg"});
        press("sheetDeliver");
        auto *dialog = m_driver->window().findChild<app::DeliveryDialog *>();
        QVERIFY(dialog);
        dialog->findChild<QComboBox *>(QStringLiteral("deliveryFormat"))->setCurrentIndex(1);
        auto *name = dialog->findChild<QLineEdit *>(QStringLiteral("deliveryName"));
        name->setText(QStringLiteral("{number}-{name}"));
        QCOMPARE(dialog->findChild<QLabel *>(QStringLiteral("deliveryExample"))->text(),
                 QStringLiteral("e.g. 1-spool-1.png"));
        // How pictures leave is kept under a name, and no preset of the drawer's.
        Q_EMIT dialog->keepAsked(QStringLiteral("Web"), dialog->delivery());
        QTRY_VERIFY_WITH_TIMEOUT(PresetStore::system().find("Web"), 30000);
        name->setText(QStringLiteral("other"));
        Q_EMIT dialog->keptAsked({0, 0});
        QMenu *kept = nullptr;
        QTRY_VERIFY_WITH_TIMEOUT((kept = dialog->findChild<QMenu *>(QStringLiteral("keptMenu"))) &&
                                     kept->isVisible(),
                                 30000);
        kept->actions().first()->trigger();
        kept->close();
        QCOMPARE(name->text(), QStringLiteral("{number}-{name}"));
        auto *where = dialog->findChild<QComboBox *>(QStringLiteral("deliveryWhere"));
        where->setCurrentIndex(1);
        dialog->findChild<QLineEdit *>(QStringLiteral("deliveryFolder"))
            ->setText(QStringLiteral("out"));
        QTest::mouseClick(dialog->findChild<QDialogButtonBox *>()->buttons().first(),
                          Qt::LeftButton);
        closeReport(QStringLiteral("2 of 3"));
        QVERIFY(QFile::exists(at("out/1-spool-1.png")));
        QVERIFY(QFile::exists(at("out/2-spool-2.png")));
        QCOMPARE(QDir(at("out")).entryList(QDir::Files).size(), 2);
        QTRY_COMPARE_WITH_TIMEOUT(stateOf("spool-1.jpg"), QStringLiteral("delivered"), 30000);
        QTRY_COMPARE_WITH_TIMEOUT(stateOf("torn.jpg"), QStringLiteral("untouched"), 30000);
    }

    void twoAreComparedAndPrinted()
    {
        giveFolder();
        select({"spool-1.jpg", "mill-pond.jpg"});
        const auto choose = [this](const char *words) {
            Q_EMIT view().customContextMenuRequested(
                view().visualRect(rowOf("spool-1.jpg")).center());
            auto *menu = m_driver->window().findChild<QMenu *>(QStringLiteral("sheetMenu"));
            for (QAction *action : menu->actions())
                if (action->text() == QString::fromUtf8(words) && action->isEnabled())
                    action->trigger();
            menu->close();
        };
        choose("Compare these two");
        auto &compare = child<app::CompareDialog>("compareDialog");
        QTRY_VERIFY_WITH_TIMEOUT(!compare.picture(0).isNull() && !compare.picture(1).isNull(),
                                 60000);
        QVERIFY(std::abs(compare.picture(0).width() * 2 - compare.picture(0).height() * 3) <= 4);
        const QColor middle = compare.picture(0).pixelColor(compare.picture(0).rect().center());
        QCOMPARE(middle.saturation(), 0); // as it would be delivered
        compare.close();

        choose("Print…");
        auto &print = child<app::PrintDialog>("printDialog");
        QCOMPARE(print.preview().pages(), 2);
        print.findChild<QSpinBox *>(QStringLiteral("printRows"))->setValue(2);
        QCOMPARE(print.preview().pages(), 1);
        print.close();
    }

    void aJobIsKeptInAFile()
    {
        giveFolder();
        QTRY_COMPARE(view().model()->rowCount(), 4);
        const auto useFile = [this](const char *words) {
            for (QAction *action : child<QMenu>("jobMenu").actions())
                if (action->text() == QString::fromUtf8(words))
                    action->trigger();
            auto *files = m_driver->window().findChild<QFileDialog *>();
            files->selectFile(at("today.buttonhole-job"));
            QMetaObject::invokeMethod(files, "accept");
            QTRY_VERIFY(!m_driver->window().findChild<QFileDialog *>());
        };
        useFile("Save this job as…");
        QTRY_VERIFY_WITH_TIMEOUT(QFile::exists(at("today.buttonhole-job")), 30000);
        sheet().model().setJob({});
        QCOMPARE(view().model()->rowCount(), 0);
        useFile("Open a job…");
        QTRY_COMPARE_WITH_TIMEOUT(view().model()->rowCount(), 4, 30000);
        // Moved with its photos, by the command line.
        const auto job = readJob(at("today.buttonhole-job").toStdString());
        QVERIFY(job);
        QCOMPARE(QString::fromStdString(job->photos[0].path), at("mill-pond.jpg"));
        QFile file(at("today.buttonhole-job"));
        QVERIFY(file.open(QIODevice::ReadOnly));
        QVERIFY(!file.readAll().contains(m_photos.path().toUtf8()));
    }

    void aPresetGoesOntoTheOpenPhotoToo()
    {
        QVERIFY(m_driver->open(at("mill-pond.jpg")));
        giveFolder();
        select({"mill-pond.jpg", "spool-1.jpg"});
        press("sheetPreset");
        QMenu *menu = nullptr;
        QTRY_VERIFY(
            (menu = m_driver->window().findChild<QMenu *>(QStringLiteral("presetForMany"))) &&
            menu->isVisible());
        const size_t moves = m_driver->session().history().entries().size();
        for (QAction *action : menu->actions())
            if (action->text() == QStringLiteral("Letter home"))
                action->trigger();
        menu->close();
        closeReport(QStringLiteral("On 1 of 1")); // the other one is worked on here
        QCOMPARE(m_driver->session().history().entries().size(), moves + 1);
        QVERIFY(m_driver->session().isUnsaved());
        QVERIFY(QFile::exists(at("spool-1.buttonhole")));
        QVERIFY(!QFile::exists(at("mill-pond.buttonhole")));
    }

    void deliveryCanBeStopped()
    {
        app::Delivering &delivering = deliverMany("out");
        QVERIFY(delivering.isRunning() && delivering.isVisible());
        press("pauseDelivery");
        press("stopDelivery");
        closeReport(QString());
        QVERIFY(!delivering.isVisible());
        QVERIFY(QDir(at("out")).entryList(QDir::Files).size() < 44);
    }

    void aPausedDeliveryHoldsNothingUp()
    {
        app::Delivering &delivering = deliverMany("paused");
        press("pauseDelivery");
        QVERIFY(m_driver->open(at("mill-pond.jpg")));
        QVERIFY(delivering.isRunning());
        // Closing asks first.
        m_driver->window().close();
        QVERIFY(m_driver->window().isVisible());
        auto *box = m_driver->window().findChild<QMessageBox *>(QStringLiteral("delivering"));
        QVERIFY(box && box->isVisible());
        QTest::mouseClick(box->findChild<QPushButton *>(QStringLiteral("stay")), Qt::LeftButton);
        QVERIFY(delivering.isRunning());
        press("pauseDelivery"); // goes on
        closeReport(QStringLiteral("44 of 44"));
        QVERIFY(!delivering.isRunning());
        QCOMPARE(QDir(at("paused")).entryList(QDir::Files).size(), 44);
    }

    void theSameAgainGoesOntoOthers()
    {
        QVERIFY(m_driver->open(at("mill-pond.jpg")));
        Take take = m_driver->session().work().take();
        take.grey.toning.shadowSaturation = 40;
        m_driver->session().edit(QStringLiteral("Toning"), take);
        giveFolder();
        select({"spool-1.jpg", "spool-10.jpg"});
        press("sheetPreset");
        QMenu *menu = nullptr;
        QTRY_VERIFY(
            (menu = m_driver->window().findChild<QMenu *>(QStringLiteral("presetForMany"))) &&
            menu->isVisible());
        menu->actions().first()->trigger();
        menu->close();
        app::PresetCard *card = nullptr;
        QTRY_VERIFY((card = m_driver->window().findChild<app::PresetCard *>()));
        card->findChild<QCheckBox *>(QStringLiteral("group-grey"))->setChecked(false);
        QTest::mouseClick(card->findChild<QDialogButtonBox *>()->buttons().first(), Qt::LeftButton);
        closeReport(QStringLiteral("On 2 of 2"));
        QTRY_COMPARE_WITH_TIMEOUT(stateOf("spool-10.jpg"), QStringLiteral("saved"), 30000);
        QTRY_COMPARE_WITH_TIMEOUT(stateOf("spool-2.jpg"), QStringLiteral("untouched"), 30000);
        const auto work = loadContainer(at("spool-10.buttonhole").toStdString());
        QVERIFY(work);
        QCOMPARE(work->work.take().grey.toning.shadowSaturation, 40.0F);
        QCOMPARE(work->work.takes.size(), size_t(1));
    }

    void theJobIsThereTheNextTime()
    {
        giveFolder();
        m_driver->settle();
        QTRY_VERIFY_WITH_TIMEOUT(QFile::exists(jobFile()), 30000);
        m_driver.reset();
        m_driver = std::make_unique<WindowDriver>(m_folder.path());
        m_driver->key(Qt::Key_J);
        QTRY_VERIFY(sheet().isVisible());
        QTRY_COMPARE(view().model()->rowCount(), 4);
        select({"spool-2.jpg"});
        sheet().model().remove(sheet().chosen());
        QCOMPARE(view().model()->rowCount(), 3);
        QVERIFY(QFile::exists(at("spool-2.jpg"))); // only the job forgets it
    }
};

BUTTONHOLE_TEST(TstSheet)
#include "tst_sheet.moc"

#include "document/preset_store.h"
#include "prepare_fixture.h"
#include "presets/preset_card.h"
#include "registry.h"
#include "ticket/takes_row.h"

#include <QAction>
#include <QCheckBox>
#include <QDialogButtonBox>
#include <QLineEdit>
#include <QListWidget>
#include <QMenu>
#include <QPushButton>
#include <QToolButton>

using namespace buttonhole;
using test::WindowDriver;

/// Takes above the ticket, and presets at its head.
class TstPresets : public test::PrepareFixture
{
    Q_OBJECT

    const Work &work() { return m_driver->session().work(); }
    const Take &take() { return work().take(); }
    int row(const char *name)
    {
        auto &list = child<QListWidget>("presets");
        for (int i = 0; i < list.count(); ++i)
            if (list.item(i)->text() == QLatin1String(name))
                return i;
        return -1;
    }
    QPoint placeOf(const char *name)
    {
        auto &list = child<QListWidget>("presets");
        return list.visualItemRect(list.item(row(name))).center();
    }
    QWidget *rows() { return child<QListWidget>("presets").viewport(); }
    void openDrawer()
    {
        m_driver->key(Qt::Key_P);
        QTRY_VERIFY_WITH_TIMEOUT(row("Poster") >= 0, 30000);
    }

private Q_SLOTS:
    void init()
    {
        m_driver = std::make_unique<WindowDriver>(m_folder.path());
        QVERIFY(m_driver->open(test::demo("mill-pond.jpg")));
    }
    void cleanup() { m_driver.reset(); }

    void takesAreMadeChosenNamedAndTakenAway()
    {
        auto &takes = child<app::TakesRow>("takes");
        QVERIFY(!takes.isVisible());
        m_driver->key(Qt::Key_T, Qt::ControlModifier | Qt::ShiftModifier);
        QCOMPARE(work().takes.size(), size_t(2));
        QVERIFY(takes.isVisible());
        QCOMPARE(take().name, std::string("Take 2"));
        QVERIFY(child<QToolButton>("take1").isChecked());

        // What is done to one is not done to the other.
        m_driver->session().edit(QStringLiteral("Grey off"), [this] {
            Take changed = take();
            changed.greyOn = false;
            return changed;
        }());
        const QColor coloured = m_driver->colourAt(2000, 300);
        press("take0");
        m_driver->settle();
        QVERIFY(take().greyOn);
        QVERIFY(m_driver->colourAt(2000, 300).saturation() < coloured.saturation());
        m_driver->key(Qt::Key_Right, Qt::AltModifier);
        m_driver->settle();
        QVERIFY(!take().greyOn);

        m_driver->key(Qt::Key_F2, Qt::ShiftModifier);
        auto &name = child<QLineEdit>("takeName");
        QTRY_VERIFY(name.isVisible());
        QTest::keyClicks(&name, QStringLiteral("In colour"));
        QTest::keyClick(&name, Qt::Key_Return);
        QCOMPARE(take().name, std::string("In colour"));
        child<QAction>("take-earlier").trigger();
        QCOMPARE(work().takes[0]->name, std::string("In colour"));
        QCOMPARE(work().current, size_t(0));
        child<QAction>("delete-take").trigger();
        QCOMPARE(work().takes.size(), size_t(1));
        QVERIFY(!takes.isVisible());
        child<QAction>("delete-take").trigger(); // the last one stays
        QCOMPARE(work().takes.size(), size_t(1));
        m_driver->session().undo();
        QCOMPARE(work().takes.size(), size_t(2));
        QCOMPARE(take().name, std::string("In colour"));
    }

    void takesAreCompared()
    {
        m_driver->key(Qt::Key_T, Qt::ControlModifier | Qt::ShiftModifier);
        m_driver->session().edit(QStringLiteral("Grey off"), [this] {
            Take changed = take();
            changed.greyOn = false;
            return changed;
        }());
        const auto isGrey = [this](double x) {
            m_driver->settle();
            const QColor colour = m_driver->colourAt(x, 500);
            return colour.red() == colour.green() && colour.green() == colour.blue();
        };
        m_driver->key(Qt::Key_T, Qt::ShiftModifier);
        QVERIFY(m_driver->canvas().seen().split);
        QVERIFY(isGrey(500) && !isGrey(2100));
        press("take0"); // the other way round: both stay in sight
        QVERIFY(!isGrey(500) && isGrey(2100));
        QCOMPARE(m_driver->canvas().pinnedName(), QStringLiteral("Take 2"));

        m_driver->key(Qt::Key_V, Qt::ShiftModifier);
        QVERIFY(m_driver->canvas().seen().sideBySide);
        m_driver->settle();
        const QImage canvas = m_driver->canvas().grab().toImage();
        const auto isGreyAt = [&canvas](double share) {
            const QColor at = canvas.pixelColor(int(canvas.width() * share), canvas.height() / 2);
            return at.red() == at.green() && at.green() == at.blue();
        };
        QVERIFY(isGreyAt(0.2) && !isGreyAt(0.7));

        m_driver->key(Qt::Key_T, Qt::ShiftModifier);
        QVERIFY(!m_driver->canvas().seen().split && !m_driver->canvas().seen().sideBySide);
        m_driver->key(Qt::Key_T, Qt::ShiftModifier);
        QVERIFY(m_driver->canvas().pinned().take);
        m_driver->session().jumpTo(0); // the other take was not there yet
        QVERIFY(!m_driver->canvas().pinned());
    }

    void pointingShowsAClickPutsOn()
    {
        openDrawer();
        const QColor before = m_driver->colourAt(2000, 900);
        const size_t moves = m_driver->session().history().entries().size();
        QTest::mouseMove(rows(), placeOf("Letter home"));
        m_driver->settle();
        QVERIFY(m_driver->colourAt(2000, 900) != before);
        QCOMPARE(m_driver->session().history().entries().size(), moves);
        QEvent leave(QEvent::Leave);
        QApplication::sendEvent(rows(), &leave);
        m_driver->settle();
        QCOMPARE(m_driver->colourAt(2000, 900), before);

        QTest::mouseClick(rows(), Qt::LeftButton, {}, placeOf("Letter home"));
        m_driver->settle();
        QCOMPARE(m_driver->session().history().entries().size(), moves + 1);
        QCOMPARE(take().finish.size(), size_t(2));
        QVERIFY(m_driver->colourAt(2000, 900) != before);
        m_driver->session().undo();
        m_driver->settle();
        QCOMPARE(m_driver->colourAt(2000, 900), before);
    }

    void ownOnesAreSavedUpdatedAndDeleted()
    {
        openDrawer();
        QTest::mouseClick(rows(), Qt::LeftButton, {}, placeOf("Coarse grain"));
        press("savePreset");
        auto *card = m_driver->window().findChild<app::PresetCard *>();
        QVERIFY(card);
        auto *save = card->findChild<QDialogButtonBox *>()->buttons().first();
        QVERIFY(!save->isEnabled()); // it has no name yet
        QTest::keyClicks(card->findChild<QLineEdit *>(QStringLiteral("presetName")),
                         QStringLiteral("Mill day"));
        card->findChild<QCheckBox *>(QStringLiteral("group-grey"))->setChecked(false);
        QVERIFY(save->isEnabled());
        QTest::mouseClick(save, Qt::LeftButton);
        QTRY_VERIFY_WITH_TIMEOUT(row("Mill day") >= 0, 30000);
        auto stored = PresetStore::system().find("Mill day");
        QVERIFY(stored);
        QCOMPARE(stored->preset.groups, std::vector<std::string>{"grain"});

        // Taken back, then put on again.
        press("takeBack");
        auto &menu = child<QMenu>("takeBackMenu");
        QTRY_VERIFY(menu.isVisible());
        for (QAction *action : menu.actions())
            if (action->objectName() == QLatin1String("grain"))
                action->trigger();
        menu.close();
        QVERIFY(take().finish.empty());
        m_driver->window().activateWindow();
        QTest::mouseClick(rows(), Qt::LeftButton, {}, placeOf("Mill day"));
        QCOMPARE(take().finish.size(), size_t(1));

        Q_EMIT child<QListWidget>("presets").customContextMenuRequested(placeOf("Mill day"));
        auto &actions = child<QMenu>("presetMenu");
        QTRY_VERIFY(actions.isVisible());
        for (QAction *action : actions.actions())
            if (action->objectName() == QLatin1String("delete"))
                action->trigger();
        actions.close();
        QTRY_COMPARE_WITH_TIMEOUT(row("Mill day"), -1, 30000);
        QVERIFY(!PresetStore::system().find("Mill day"));
    }

    void aBrokenOneSaysWhy()
    {
        const std::string folder = PresetStore::system().folder();
        QVERIFY(QDir().mkpath(QString::fromStdString(folder)));
        QFile broken(QString::fromStdString(folder + "/broken.json"));
        QVERIFY(broken.open(QIODevice::WriteOnly) && broken.write("{\"format\"") > 0);
        broken.close();
        openDrawer();
        const size_t moves = m_driver->session().history().entries().size();
        QTRY_VERIFY_WITH_TIMEOUT(row("broken") >= 0, 30000);
        QVERIFY(child<QListWidget>("presets")
                    .item(row("broken"))
                    ->toolTip()
                    .contains(QStringLiteral("broken.json")));
        QTest::mouseClick(rows(), Qt::LeftButton, {}, placeOf("broken"));
        QCOMPARE(m_driver->session().history().entries().size(), moves);
        broken.remove();
    }
};

BUTTONHOLE_TEST(TstPresets)
#include "tst_presets.moc"

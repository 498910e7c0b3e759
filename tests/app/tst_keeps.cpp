#include "check/colour_field_view.h"
#include "keeps_fixture.h"
#include "registry.h"
#include "ticket/step_details.h"
#include "ticket/ticket.h"

#include <QCheckBox>
#include <QLabel>
#include <QMenu>
#include <QProcess>
#include <QToolButton>

#include <cmath>
#include <set>

using namespace buttonhole;

/// Keeps and their steps in the ticket: changed, moved, copied, saved.
class TstKeeps : public test::KeepsFixture
{
    Q_OBJECT

private Q_SLOTS:
    void init() { openWashingLine(); }
    void cleanup() { m_driver.reset(); }

    /// Each number of a keep and of the grey has its slider, which follows it.
    void slidersFollowTheirNumbers()
    {
        const auto follows = [&](const QString &id, float stored, double factor) {
            auto *slider = m_driver->window().findChild<app::Slider *>(id);
            QVERIFY2(slider, qPrintable(id));
            QVERIFY2(std::abs(slider->amount() - double(stored) * factor) < 0.51,
                     qPrintable(id + QStringLiteral(" %1").arg(slider->amount())));
        };
        for (const Param<Keep> &row : keepParams()) {
            Take next = take();
            row.of(next.keeps[0]) = row.leastShown() + (row.mostShown() - row.leastShown()) * 0.25F;
            m_driver->session().edit(QStringLiteral("Set"), next);
            follows(QString::fromLatin1(row.id), row.get(next.keeps[0]), row.scale.factor);
        }
        m_driver->session().select({app::TicketLine::Kind::Grey});
        for (const Param<GreyMix> &row : greyParams()) {
            const QString id = QString::fromLatin1(row.id);
            const QStringList inTheGraph{QStringLiteral("tone.black"),
                                         QStringLiteral("tone.middle"),
                                         QStringLiteral("tone.white")};
            if (inTheGraph.contains(id) || id.endsWith(QLatin1String(".hue")))
                continue; // dragged in the graph; hues of toning have sliders of their own
            Take next = take();
            row.of(next.grey) = row.leastShown() + (row.mostShown() - row.leastShown()) * 0.25F;
            m_driver->session().edit(QStringLiteral("Set"), next);
            follows(QStringLiteral("grey.") + id, row.get(next.grey), row.scale.factor);
        }
    }

    void aKeepsPictureShowsOnlyWhatItKeeps()
    {
        const QPointF cloth = clothPlace();
        const auto picture = [&]() -> const QLabel * {
            for (const auto *each : m_driver->window().findChildren<QLabel *>())
                if (each->accessibleName() == QStringLiteral("Picture of the keep"))
                    return each;
            return nullptr;
        };
        QVERIFY(picture() && !picture()->isVisible());
        m_driver->key(Qt::Key_5);
        click(cloth.x(), cloth.y());
        m_driver->session().select(keepLine(0));
        QVERIFY(QTest::qWaitFor([&] { return picture()->isVisible(); }, 5000));
        const QImage shown = picture()->pixmap().toImage();
        const auto at = [&](double x, double y) {
            return test::colourfulness(
                shown.pixelColor(int(x / 2400 * shown.width()), int(y / 1600 * shown.height())));
        };
        QVERIFY(at(cloth.x(), cloth.y()) > 60);
        QVERIFY(at(1650, 750) <= 4); // the blue cloth is not of this keep
    }

    void aKeepGrowsFeathersAndLooks()
    {
        m_driver->window().brush().setTip({200, 0, 1, 1, PressureSteers::Nothing});
        const QPointF cloth = clothPlace();
        m_driver->paint({cloth, cloth + QPointF(1, 1)});
        m_driver->session().select(keepLine(0));
        const QPointF beside = cloth + QPointF(125, 0);
        QCOMPARE(colour(beside.x(), beside.y()), 0);
        m_driver->session().edit(QStringLiteral("grow"), withKeep(take(), take().keeps[0].id,
                                                                  [](Keep &k) { k.growPx = 50; }));
        QVERIFY(colour(beside.x(), beside.y()) > 30);
        QVERIFY(std::abs(slider("Grow")->amount() - 50) < 0.1);
        slider("Saturation")->setFocus();
        QTest::keyClick(slider("Saturation"), Qt::Key_Home);
        QCOMPARE(take().keeps[0].look.saturation, 0.0F);
        QVERIFY(colour(cloth.x(), cloth.y()) <= 2);
        // A stroke near its edge shows through growing, too.
        m_driver->key(Qt::Key_Z, Qt::ControlModifier);
        m_driver->window().brush().setTip({40, 0, 1, 1, PressureSteers::Nothing});
        const QPointF far = cloth + QPointF(0, -260);
        m_driver->paint({far, far + QPointF(1, 0)});
        QVERIFY(colour(far.x(), far.y() + 60) > 5);
    }

    void linesAreDuplicatedMovedCopiedAndDeleted()
    {
        const QPointF cloth = clothPlace();
        m_driver->key(Qt::Key_5);
        click(cloth.x(), cloth.y());
        m_driver->key(Qt::Key_D, Qt::ControlModifier);
        QCOMPARE(take().keeps[0].steps.size(), size_t(2));
        const uint64_t second = take().keeps[0].steps[1].id;
        QCOMPARE(step().id, second);
        m_driver->key(Qt::Key_Up, Qt::AltModifier | Qt::ShiftModifier);
        QCOMPARE(take().keeps[0].steps[0].id, second);
        // A copy in a keep of its own.
        m_driver->window().actions()["copy-step"]->trigger();
        auto *menu = m_driver->window().findChild<QMenu *>(QStringLiteral("copyStep"));
        QVERIFY(menu);
        menu->actions().last()->trigger();
        menu->close();
        QCOMPARE(take().keeps.size(), size_t(2));
        QCOMPARE(take().keeps[1].steps.size(), size_t(1));
        m_driver->session().select(keepLine(1));
        m_driver->key(Qt::Key_Up, Qt::AltModifier | Qt::ShiftModifier);
        QCOMPARE(take().keeps[0].steps.size(), size_t(1));
        m_driver->key(Qt::Key_Delete);
        QCOMPARE(take().keeps.size(), size_t(1));
        QCOMPARE(take().keeps[0].steps.size(), size_t(2));
        m_driver->key(Qt::Key_Z, Qt::ControlModifier);
        QCOMPARE(take().keeps.size(), size_t(2));
    }

    /// Undone while the button is held: what is let go of is no more.
    void whatIsGoneUnderTheFingerIsLeftAlone()
    {
        m_driver->key(Qt::Key_K, Qt::ControlModifier);
        const uint64_t id = take().keeps.back().id;
        QCheckBox *box = row({app::TicketLine::Kind::Keep, id})->findChild<QCheckBox *>();
        QTest::mousePress(box, Qt::LeftButton);
        m_driver->session().undo();
        QCOMPARE(take().keeps.size(), size_t(1));
        QTest::mouseRelease(box, Qt::LeftButton);
        QCOMPARE(take().keeps.size(), size_t(1));

        m_driver->session().edit(QStringLiteral("None"), withoutKeep(take(), take().keeps[0].id));
        auto *field = m_driver->window().findChild<app::ColourFieldView *>();
        QTest::mouseClick(field, Qt::LeftButton, {}, field->rect().center());
        QVERIFY(take().keeps.empty());
    }

    void aKeepIsClearedInOneMoveAndComesBackInOne()
    {
        const QPointF cloth = clothPlace();
        m_driver->key(Qt::Key_5);
        click(cloth.x(), cloth.y());
        m_driver->key(Qt::Key_D, Qt::ControlModifier);
        m_driver->session().select(keepLine(0));
        m_driver->key(Qt::Key_K, Qt::ControlModifier | Qt::ShiftModifier); // everything but this
        const Keep before = take().keeps[0];
        QVERIFY(before.invert);
        m_driver->settle();
        m_driver->key(Qt::Key_Backspace, Qt::ControlModifier);
        QVERIFY(take().keeps[0].steps.empty());
        QCOMPARE(take().keeps[0].id, before.id);
        m_driver->settle();
        QVERIFY(colour(cloth.x(), cloth.y()) < 5);
        m_driver->settle();
        QVERIFY(colour(50, 50) < 5); // grey all over, not all in colour
        m_driver->key(Qt::Key_Z, Qt::ControlModifier);
        QCOMPARE(take().keeps[0].steps.size(), before.steps.size());
        QVERIFY(take().keeps[0].invert);
        m_driver->settle();
        QVERIFY(colour(cloth.x(), cloth.y()) < 5);
        QVERIFY(colour(50, 50) > 5);
    }

    void aStepIsTurnedIntoEverythingButIt()
    {
        const QPointF cloth = clothPlace();
        m_driver->key(Qt::Key_5);
        click(cloth.x(), cloth.y());
        m_driver->settle();
        QVERIFY(colour(cloth.x(), cloth.y()) > 60);
        m_driver->key(Qt::Key_K, Qt::ControlModifier | Qt::ShiftModifier);
        QVERIFY(step().invert && !take().keeps[0].invert);
        m_driver->settle();
        QVERIFY(colour(cloth.x(), cloth.y()) < 5);
        QVERIFY(colour(1650, 750) > 60); // the blue cloth
        auto &window = m_driver->window();
        QCOMPARE(row(stepLine(0, 0))->content().name, QStringLiteral("All but colour window"));
        // Painting the cloth is another step: a stroke into this one would take away.
        m_driver->key(Qt::Key_1);
        m_driver->paint({cloth, cloth + QPointF(5, 0)});
        m_driver->settle();
        QCOMPARE(take().keeps[0].steps.size(), size_t(2));
        QVERIFY(colour(cloth.x(), cloth.y()) > 60);
        m_driver->session().select(stepLine(0, 0));
        for (auto *box : window.findChildren<QCheckBox *>())
            if (box->isVisible() && box->text() == QStringLiteral("Everything but this"))
                QTest::mouseClick(box, Qt::LeftButton, {}, QPoint(8, box->height() / 2));
        QVERIFY(!take().keeps[0].steps[0].invert);
        m_driver->key(Qt::Key_Z, Qt::ControlModifier);
        QVERIFY(take().keeps[0].steps[0].invert);
    }

    void theTicketsMenuActsOnTheLineUnderThePointer()
    {
        const QPointF cloth = clothPlace();
        m_driver->key(Qt::Key_5);
        click(cloth.x(), cloth.y());
        m_driver->key(Qt::Key_K, Qt::ControlModifier);
        const auto menuOf = [&](app::TicketRow *row) -> QMenu * {
            const QPoint at = row->rect().center();
            QContextMenuEvent event(QContextMenuEvent::Mouse, at, row->mapToGlobal(at));
            QCoreApplication::sendEvent(row, &event);
            return m_driver->window().findChild<QMenu *>(QStringLiteral("lineMenu"));
        };
        QVERIFY(!menuOf(row({app::TicketLine::Kind::Grey})));
        QMenu *menu = menuOf(row(stepLine(0, 0)));
        QVERIFY(menu);
        QVERIFY(m_driver->session().line() == stepLine(0, 0));
        menu->actions().first()->trigger(); // a second one
        menu->close();
        QCoreApplication::sendPostedEvents(nullptr, QEvent::DeferredDelete);
        QCOMPARE(take().keeps[0].steps.size(), size_t(2));
        menu = menuOf(row(keepLine(1)));
        QVERIFY(menu);
        menu->actions().last()->trigger();
        menu->close();
        QCOMPARE(take().keeps.size(), size_t(1));
    }

    /// More steps than there is room for: the selected one is seen, and so are its details and what
    /// adds more.
    void aLongTicketLeavesRoomForTheDetails()
    {
        m_driver->key(Qt::Key_5);
        const QPointF cloth = clothPlace();
        click(cloth.x(), cloth.y());
        Take many = take();
        for (int i = 0; i < 30; ++i)
            many =
                withCopyOfStep(many, many.keeps[0].id, many.keeps[0].steps[0].id, many.keeps[0].id);
        m_driver->session().edit(QStringLiteral("Many"), many);
        for (const size_t index : {size_t(30), size_t(0), size_t(17)}) {
            m_driver->session().select(stepLine(0, index));
            const app::TicketRow *selected = row(stepLine(0, index));
            QTRY_COMPARE(selected->visibleRegion().boundingRect(), selected->rect());
        }
        for (const QString &adds : {QStringLiteral("+ Keep"), QStringLiteral("+ Step")}) {
            const auto buttons = m_driver->window().findChildren<QToolButton *>();
            const auto button = std::find_if(buttons.begin(), buttons.end(), [&](const auto *each) {
                return each->text() == adds;
            });
            QVERIFY(button != buttons.end());
            QCOMPARE((*button)->visibleRegion().boundingRect(), (*button)->rect());
        }
        const auto *details = m_driver->window().findChild<app::StepDetails *>();
        QVERIFY(details->visibleRegion().boundingRect().height() > 180);
    }

    void stepsAreDraggedInTheTicket()
    {
        const QPointF cloth = clothPlace();
        m_driver->key(Qt::Key_5);
        click(cloth.x(), cloth.y());
        m_driver->key(Qt::Key_D, Qt::ControlModifier);
        m_driver->key(Qt::Key_K, Qt::ControlModifier);
        QCOMPARE(take().keeps.size(), size_t(2));
        const app::TicketLine dragged = stepLine(0, 0);
        app::TicketRow *from = row(dragged);
        const QPoint target =
            from->mapFrom(&m_driver->window().ticket(), row(keepLine(1))->geometry().center()) +
            QPoint(0, 12);
        QTest::mousePress(from, Qt::LeftButton, {}, from->rect().center());
        QTest::mouseMove(from, from->rect().center() + QPoint(0, 20));
        QTest::mouseMove(from, target);
        QTest::mouseRelease(from, Qt::LeftButton, {}, target);
        QCOMPARE(take().keeps[0].steps.size(), size_t(1));
        QCOMPARE(take().keeps[1].steps.size(), size_t(1));
        QCOMPARE(take().keeps[1].steps[0].id, dragged.stepId);
    }

    void everyStepIsSavedAndRendersInTheCommandLine()
    {
        stepOfEachKind();
        m_driver->session().edit(QStringLiteral("feather"),
                                 withKeep(take(), take().keeps[0].id, [](Keep &k) {
                                     k.featherPx = 12;
                                     k.look.hueShiftDeg = 40;
                                     k.steps[0].insideOf = Step::kWhatIsThere;
                                     k.steps[1].insideOf = k.steps[4].id;
                                     k.steps[3].invert = true;
                                 }));
        const Take before = take();
        const QString file = m_folder.filePath(QStringLiteral("line.buttonhole"));
        const QString picture = m_folder.filePath(QStringLiteral("window.png"));
        const QString other = m_folder.filePath(QStringLiteral("cli.png"));
        const QString again = m_folder.filePath(QStringLiteral("again.png"));
        QVERIFY(m_driver->save(file));
        ExportSettings settings;
        settings.format = ExportSettings::Format::Png;
        QVERIFY(m_driver->exportTo(picture, settings));
        QProcess cli;
        cli.start(QStringLiteral(BUTTONHOLE_CLI),
                  {QStringLiteral("render"), file, QStringLiteral("-o"), other});
        QVERIFY(cli.waitForFinished());
        QCOMPARE(cli.exitCode(), 0);
        const QImage a(picture);
        QVERIFY(!a.isNull());
        QCOMPARE(a, QImage(other));
        QVERIFY(m_driver->open(file));
        QCOMPARE(take().keeps[0].featherPx, 12.0F);
        for (size_t i = 0; i < before.keeps[0].steps.size(); ++i) {
            const Step &was = before.keeps[0].steps[i];
            const Step &is = take().keeps[0].steps[i];
            QCOMPARE(is.shape->kind(), was.shape->kind());
            QCOMPARE(is.shape->facts(), was.shape->facts());
            QCOMPARE(is.insideOf, was.insideOf);
        }
        QVERIFY(m_driver->exportTo(again, settings));
        QCOMPARE(QImage(again), a);
    }

private:
    /// By the mouse, in tray order.
    void stepOfEachKind()
    {
        const QPointF cloth = clothPlace();
        const auto settle = [this] {
            app::Tool &tool = m_driver->window().toolbox().current();
            QVERIFY(QTest::qWaitFor([&] { return !tool.isUnfinished(); }, 90000));
            m_driver->settle();
        };
        m_driver->key(Qt::Key_E);
        m_driver->paint({{400, 600}, {420, 700}, {400, 800}});
        m_driver->key(Qt::Key_2);
        click(1650, 750);
        settle();
        m_driver->key(Qt::Key_3);
        for (const QPointF &corner : {QPointF(1500, 100), QPointF(1900, 120), QPointF(1700, 300)})
            click(corner.x(), corner.y());
        QTest::keyClick(&m_driver->canvas(), Qt::Key_Return);
        m_driver->key(Qt::Key_4);
        click(300, 1200);
        m_driver->key(Qt::Key_5);
        click(cloth.x(), cloth.y());
        m_driver->key(Qt::Key_6);
        click(600, 100);
        m_driver->key(Qt::Key_7);
        m_driver->key(Qt::Key_D);
        m_driver->paint({{cloth.x(), 100}, {cloth.x(), 600}, {cloth.x(), 1100}});
        m_driver->key(Qt::Key_A);
        m_driver->key(Qt::Key_8);
        click(2250, 900);
        settle();
        std::set<std::string> kinds;
        for (const Step &each : take().keeps[0].steps)
            kinds.insert(each.shape->kind());
        QCOMPARE(kinds.size(), size_t(8));
        QCOMPARE(take().keeps[0].steps.size(), size_t(8));
    }
};

BUTTONHOLE_TEST(TstKeeps)

#include "tst_keeps.moc"

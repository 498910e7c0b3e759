#include "controls/slider.h"
#include "mask/fade_step.h"
#include "mask/match_step.h"
#include "mask/outline_step.h"
#include "registry.h"
#include "tools/tray.h"
#include "window/start_page.h"
#include "window_driver.h"

#include <QComboBox>
#include <QDialog>
#include <QLabel>
#include <QLayout>
#include <QLineEdit>
#include <QMenu>
#include <QPushButton>
#include <QSet>
#include <QTemporaryDir>
#include <QToolButton>

using namespace buttonhole;
using test::WindowDriver;

/// The options in the tray do what they say, by mouse and by keys.
class TstTray : public QObject
{
    Q_OBJECT

    QTemporaryDir m_folder;
    std::unique_ptr<WindowDriver> m_driver;

    app::Tray &tray() { return *m_driver->window().findChild<app::Tray *>(); }
    const Take &take() const { return *m_driver->session().take(); }
    template <class Shape>
    const Shape *lastShape() const
    {
        const auto &steps = take().keeps[0].steps;
        return steps.empty() ? nullptr : dynamic_cast<const Shape *>(steps.back().shape.get());
    }
    template <class Button>
    Button *button(const QString &text)
    {
        for (auto *each : m_driver->window().findChildren<Button *>())
            if (each->isVisible() && each->text() == text)
                return each;
        return nullptr;
    }
    app::Slider *slider(const char *name)
    {
        for (auto *each : tray().findChildren<app::Slider *>())
            if (each->isVisible() && each->accessibleName() == QLatin1String(name))
                return each;
        return nullptr;
    }
    void clickPhoto(const QPointF &photo)
    {
        const QPoint at = m_driver->at(photo.x(), photo.y());
        QTest::mouseMove(&m_driver->canvas(), at);
        QTest::mouseClick(&m_driver->canvas(), Qt::LeftButton, {}, at);
    }
    /// The words that say what to do next with the tool in hand.
    QString hint()
    {
        for (const auto *each : tray().findChildren<QLabel *>())
            if (each->isVisible() && each->wordWrap())
                return each->text();
        return {};
    }
    void press(QAbstractButton *button)
    {
        QVERIFY(button);
        QTest::mouseClick(button, Qt::LeftButton, {}, button->rect().center());
    }

private Q_SLOTS:
    void init()
    {
        m_driver = std::make_unique<WindowDriver>(m_folder.path());
        QVERIFY(m_driver->open(test::demo("washing-line.jpg")));
    }
    void cleanup() { m_driver.reset(); }

    /// The tools stay where they are; one that is taken up brings the keep back.
    void withGreySelectedTheToolsStay()
    {
        app::MainWindow &window = m_driver->window();
        m_driver->session().select({app::TicketLine::Kind::Grey});
        QVERIFY(tray().isVisible());
        QVERIFY(m_driver->canvas().hint().isEmpty()); // it is no place to paint now
        QToolButton *region = nullptr;
        for (auto *pill : tray().findChildren<QToolButton *>()) {
            QVERIFY(!pill->property("pill").toBool() || !pill->isChecked());
            if (pill->accessibleName() == QLatin1String("Region"))
                region = pill;
        }
        QVERIFY(region && region->isVisible());
        QTest::mouseClick(region, Qt::LeftButton);
        QVERIFY(&window.toolbox().current() == &window.toolbox().the<app::RegionTool>());
        QVERIFY(m_driver->session().line().kind == app::TicketLine::Kind::Keep);
        m_driver->session().select({app::TicketLine::Kind::Grey});
        m_driver->key(Qt::Key_2); // the one in hand as well
        QVERIFY(m_driver->session().line().kind == app::TicketLine::Kind::Keep);
    }

    void theKeepsStrengthIsThereForItsSteps()
    {
        m_driver->paint({{400, 400}, {500, 400}});
        const Keep &keep = m_driver->session().take()->keeps[0];
        m_driver->session().select({app::TicketLine::Kind::Step, keep.id, keep.steps[0].id});
        app::Slider *strength = nullptr;
        for (auto *each : m_driver->window().findChildren<app::Slider *>())
            if (each->isVisible() && each->accessibleName().startsWith(QLatin1String("Strength")))
                strength = each;
        QVERIFY(strength);
        QCOMPARE(strength->amount(), 100.0);
        strength->setFocus();
        QTest::keyClick(strength, Qt::Key_Left);
        QVERIFY(m_driver->session().take()->keeps[0].strength < 1);
        m_driver->key(Qt::Key_Z, Qt::ControlModifier);
        QCOMPARE(strength->amount(), 100.0);
    }

    void pagesToReadCloseByTheirButton()
    {
        for (const char *name : {"keys", "guide"}) {
            m_driver->window().actions()[name]->trigger();
            auto *page = m_driver->window().findChild<QDialog *>(QLatin1String(name));
            QVERIFY(page && page->isVisible());
            auto *close = page->findChild<QPushButton *>();
            QVERIFY(close);
            QTest::mouseClick(close, Qt::LeftButton);
            QTRY_VERIFY(!m_driver->window().findChild<QDialog *>(QLatin1String(name)));
            m_driver->window().actions()[name]->trigger(); // and when it is asked for again
            m_driver->window().actions()[name]->trigger();
            QTRY_VERIFY(!m_driver->window().findChild<QDialog *>(QLatin1String(name)));
        }
    }

    void keysAreFoundByTyping()
    {
        m_driver->window().actions()["keys"]->trigger();
        auto *page = m_driver->window().findChild<QDialog *>(QStringLiteral("keys"));
        QVERIFY(page);
        QVERIFY2(page->width() <= 1280 && page->height() <= 800,
                 qPrintable(QStringLiteral("%1 x %2").arg(page->width()).arg(page->height())));
        const auto shown = [&] {
            QStringList out;
            for (const auto *label : page->findChildren<QLabel *>())
                if (label->isVisible())
                    out.append(label->text());
            return out;
        };
        for (const app::ActionRow &row : app::actionRows())
            if (row.keys[0] != 0)
                QVERIFY2(shown().contains(m_driver->window().actions()[row.id]->text()), row.id);
        QTest::keyClicks(page->findChild<QLineEdit *>(), QStringLiteral("fuzz"));
        QCOMPARE(shown(), QStringList({QStringLiteral("Painting"), QStringLiteral("G"),
                                       QStringLiteral("Mark fuzz at the edge")}));
        QTest::keyClicks(page->findChild<QLineEdit *>(), QStringLiteral("zz"));
        QCOMPARE(shown().size(), 1);
        QVERIFY(shown()[0].contains(QStringLiteral("fuzzzz")));
        page->close();
    }

    /// Where nothing is open: what was worked on last, as pictures, and nothing that does nothing.
    void theStartOffersWhatThereIs()
    {
        const QString folder = m_folder.filePath(QStringLiteral("start"));
        QString work;
        {
            WindowDriver first(folder);
            auto *start = first.window().findChild<app::StartPage *>();
            const auto cards = [&] {
                QStringList out;
                for (const auto *card : start->findChildren<QToolButton *>())
                    if (!card->icon().isNull())
                        out.append(card->text());
                return out;
            };
            QVERIFY(start->isVisible());
            QCOMPARE(cards().size(), 6); // the demo photos
            QVERIFY(!first.window().findChild<app::Tray *>()->isEnabled());
            for (auto *card : start->findChildren<QToolButton *>())
                if (card->text() == QStringLiteral("loom"))
                    QTest::mouseClick(card, Qt::LeftButton);
            QTRY_VERIFY_WITH_TIMEOUT(first.session().hasPhoto(), 30000);
            QVERIFY(!start->isVisible());
            QVERIFY(first.window().findChild<app::Tray *>()->isEnabled());
            first.settle();
            work = m_folder.filePath(QStringLiteral("Weaving.buttonhole"));
            QVERIFY(first.save(work));
            QVERIFY(first.open(test::demo("spools.jpg")));
        }
        WindowDriver second(folder);
        auto *start = second.window().findChild<app::StartPage *>();
        QList<QToolButton *> cards;
        for (auto *card : start->findChildren<QToolButton *>())
            if (!card->icon().isNull())
                cards.append(card);
        QVERIFY(cards.size() >= 2);
        QCOMPARE(cards[0]->text(), QStringLiteral("spools"));
        const auto of = [&](const QString &name) -> QToolButton * {
            for (QToolButton *card : cards)
                if (card->text() == name)
                    return card;
            return nullptr;
        };
        QToolButton *weaving = of(QStringLiteral("Weaving"));
        QVERIFY(weaving);
        const auto colours = [&] { // its picture comes when it is read
            const QImage picture = weaving->icon().pixmap(weaving->iconSize()).toImage();
            QSet<QRgb> out;
            for (int x = 0; x < picture.width(); ++x)
                out.insert(picture.pixel(x, picture.height() / 2));
            return out.size();
        };
        QTRY_VERIFY_WITH_TIMEOUT(colours() > 20, 10000);
        QTest::mouseClick(weaving, Qt::LeftButton);
        QTRY_COMPARE_WITH_TIMEOUT(second.session().containerPath(), work, 30000);
    }

    /// A file's own words are shown as they are, not taken for markup.
    void namesAreNoMarkup()
    {
        Take take = *m_driver->session().take();
        take.keeps[0].name = "<b>Loom</b><img src='/etc/passwd'>";
        m_driver->session().edit(QStringLiteral("<u>Renamed</u>"), take);
        m_driver->settle();
        for (const auto *label : m_driver->window().findChildren<QLabel *>())
            QVERIFY2(!label->text().contains(QLatin1String("<img")) ||
                         label->textFormat() == Qt::PlainText,
                     qPrintable(label->text()));
    }

    /// In the smallest window too, whatever way a tool is used, its words are all there.
    void hintsFitTheirPlace()
    {
        m_driver->window().resize(m_driver->window().minimumSizeHint());
        m_driver->settle();
        int seen = 0;
        const auto check = [&] {
            QCoreApplication::processEvents();
            for (const auto *each : tray().findChildren<QLabel *>()) {
                if (!each->isVisible() || !each->wordWrap())
                    continue;
                const QRect room = each->rect();
                const QRect words = each->fontMetrics().boundingRect(
                    QRect(0, 0, room.width(), 1000), Qt::TextWordWrap, each->text());
                QVERIFY2(words.height() <= room.height() && words.width() <= room.width(),
                         qPrintable(each->text()));
                ++seen;
            }
        };
        for (int key = Qt::Key_2; key <= Qt::Key_8; ++key) {
            m_driver->key(Qt::Key(key));
            check();
        }
        for (const char *way : {"hug edges", "freehand"}) {
            m_driver->key(Qt::Key_3);
            press(button<QToolButton>(QLatin1String(way)));
            check();
        }
        QVERIFY(button<QLabel>(QStringLiteral("Draw round it in one go; letting go closes it.")));
        // Then what comes next: while it is drawn, and once there is something to mend.
        press(button<QToolButton>(QStringLiteral("points")));
        clickPhoto({700, 500});
        check();
        QVERIFY(hint().contains(QLatin1String("Return")));
        clickPhoto({900, 500});
        clickPhoto({800, 800});
        QTest::keyClick(&m_driver->canvas(), Qt::Key_Return);
        check();
        QVERIFY(hint().contains(QLatin1String("Ctrl-click takes one out")));
        m_driver->key(Qt::Key_2);
        QVERIFY(!hint().contains(QLatin1String("mark")));
        clickPhoto({900, 700});
        m_driver->settle();
        check();
        QVERIFY(hint().contains(QLatin1String("Ctrl-click a mark")));
        QVERIFY(seen >= 11);
    }

    /// A height that follows from the width is tried many times over in each layout of the window,
    /// which shapes all of a hint's text each time: a stall.
    void hintsAskForNoHeightOfTheirOwn()
    {
        for (const Qt::Key key : {Qt::Key_2, Qt::Key_8}) {
            m_driver->key(key);
            int hints = 0;
            for (const auto *each : tray().findChildren<QLabel *>()) {
                hints += each->isVisible() && each->wordWrap() ? 1 : 0;
                QVERIFY2(!each->hasHeightForWidth(), qPrintable(each->text()));
            }
            QCOMPARE(hints, 1);
            QVERIFY(!tray().layout()->hasHeightForWidth());
        }
    }

    void slidersAndKeysMoveTheSameTip()
    {
        const auto tip = [this] { return m_driver->window().brush().tip(); };
        const struct {
            const char *name;
            float Tip::*member;
            double factor;
            Qt::Key end;
            double amount;
        } options[] = {{"Softness", &Tip::softness, 100, Qt::Key_End, 100},
                       {"Flow", &Tip::flow, 100, Qt::Key_Home, 1},
                       {"Opacity", &Tip::opacity, 100, Qt::Key_Home, 1},
                       {"Edges", &Tip::edgeHold, 100, Qt::Key_End, 100},
                       {"Size", &Tip::sizePx, 1, Qt::Key_Home, kMinTipPx}};
        for (const auto &option : options) {
            app::Slider *moved = slider(option.name);
            QVERIFY2(moved, option.name);
            QTest::keyClick(moved, option.end);
            QVERIFY(std::abs(double(tip().*option.member) * option.factor - option.amount) < 1e-4);
        }
        const double before = slider("Size")->amount();
        m_driver->key(Qt::Key_W);
        QVERIFY(slider("Size")->amount() > before);
        QCOMPARE(slider("Size")->amount(), double(tip().sizePx));
    }

    void partialOpacityLeavesPartialColour()
    {
        Tip tip = m_driver->window().brush().tip();
        tip.sizePx = 150;
        tip.flow = 1;
        tip.edgeHold = 0;
        m_driver->window().brush().setTip(tip);
        app::Slider *opacity = slider("Opacity");
        QTest::keyClick(opacity, Qt::Key_Home);
        for (int i = 0; i < 5; ++i)
            QTest::keyClick(opacity, Qt::Key_PageUp);
        m_driver->paint({{900, 500}, {900, 540}, {900, 580}});
        m_driver->settle();
        const int half = test::colourfulness(m_driver->colourAt(900, 540));
        QTest::keyClick(opacity, Qt::Key_End);
        m_driver->paint({{900, 500}, {900, 540}, {900, 580}});
        m_driver->settle();
        const int whole = test::colourfulness(m_driver->colourAt(900, 540));
        QVERIFY2(half > whole / 4 && half < whole * 3 / 4,
                 qPrintable(QStringLiteral("%1 of %2").arg(half).arg(whole)));
    }

    void theHandMenuSteersPressureAndSteadiness()
    {
        auto *hand = button<QToolButton>(QStringLiteral("pen"));
        QVERIFY(hand && hand->menu());
        const auto actions = hand->menu()->actions();
        actions[1]->trigger();
        QCOMPARE(m_driver->window().brush().tip().pressure, PressureSteers::Size);
        actions[2]->trigger();
        QCOMPARE(m_driver->window().brush().tip().pressure, PressureSteers::Flow);
        actions[3]->trigger();
        QCOMPARE(m_driver->window().brush().tip().pressure, PressureSteers::Softness);
        actions.last()->trigger();
        QCOMPARE(m_driver->window().brush().steadiness(), 0.9F);
        // The line lags: it ends short of where a hand that turns round quickly went.
        m_driver->paint({{300, 300}, {500, 300}, {300, 300}});
        actions[5]->trigger();
        QCOMPARE(m_driver->window().brush().steadiness(), 0.0F);
    }

    void aWiderTipOfMatchReadsTheMean()
    {
        m_driver->key(Qt::Key_4);
        auto *tip = tray().findChild<QComboBox *>();
        QVERIFY(tip);
        const auto &levels = *m_driver->session().levels();
        for (const int index : {0, 4}) {
            tip->setCurrentIndex(index);
            Q_EMIT tip->activated(index);
            m_driver->paint({{620.5, 1100.5}}); // grass
            QVERIFY(lastShape<MatchStep>());
            const Match::Click &click = lastShape<MatchStep>()->match().clicks.back();
            const LabColour mean = sampleColour(levels, click.at, index == 0 ? 1 : 31);
            QCOMPARE(click.colour.L, mean.L);
            QCOMPARE(click.colour.b, mean.b);
        }
        QCOMPARE(lastShape<MatchStep>()->match().clicks.size(), size_t(2)); // they gather
        QVERIFY(lastShape<MatchStep>()->match().clicks[0].colour.L !=
                lastShape<MatchStep>()->match().clicks[1].colour.L);
    }

    void aFadeIsRoundWhereAsked()
    {
        m_driver->key(Qt::Key_7);
        press(button<QToolButton>(QStringLiteral("round")));
        m_driver->paint({{900, 600}, {1000, 650}, {1200, 700}});
        QVERIFY(lastShape<FadeStep>());
        QVERIFY(lastShape<FadeStep>()->fade().isRound);
        press(button<QToolButton>(QStringLiteral("straight")));
        m_driver->key(Qt::Key_N, Qt::ControlModifier);
        m_driver->paint({{300, 300}, {300, 500}, {300, 800}});
        QVERIFY(lastShape<FadeStep>());
    }

    void anOutlineIsDrawnFreehandInOneGo()
    {
        m_driver->key(Qt::Key_3);
        press(button<QToolButton>(QStringLiteral("freehand")));
        QList<QPointF> ring;
        for (int i = 0; i <= 40; ++i)
            ring.append({900 + 200 * std::cos(i * M_PI / 20), 600 + 200 * std::sin(i * M_PI / 20)});
        m_driver->paint(ring);
        QVERIFY(lastShape<OutlineStep>());
        QCOMPARE(lastShape<OutlineStep>()->outlines().size(), size_t(1));
        m_driver->settle();
        QVERIFY(test::colourfulness(m_driver->colourAt(900, 600)) > 40);
        QVERIFY(test::colourfulness(m_driver->colourAt(1250, 900)) <= 2);
    }

    void aStepsDetailsLeadToItsKeepAndRemoveIt()
    {
        m_driver->key(Qt::Key_5);
        m_driver->paint({{900, 640}});
        QCOMPARE(m_driver->session().line().kind, app::TicketLine::Kind::Step);
        press(button<QPushButton>(QStringLiteral("Edge and colour")));
        QCOMPARE(m_driver->session().line().kind, app::TicketLine::Kind::Keep);
        QVERIFY(!button<QPushButton>(QStringLiteral("Edge and colour")));
        m_driver->session().select(
            {app::TicketLine::Kind::Step, take().keeps[0].id, take().keeps[0].steps[0].id});
        press(button<QPushButton>(QStringLiteral("Remove step")));
        QVERIFY(take().keeps[0].steps.empty());
        m_driver->key(Qt::Key_Z, Qt::ControlModifier);
        QCOMPARE(take().keeps[0].steps.size(), size_t(1));
    }
};

BUTTONHOLE_TEST(TstTray)

#include "tst_tray.moc"

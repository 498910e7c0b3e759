#include "commands/step_words.h"
#include "controls/slider.h"
#include "mask/region_step.h"
#include "registry.h"
#include "window_driver.h"

#include <QPushButton>
#include <QTemporaryDir>

using namespace buttonhole;
using test::WindowDriver;

class TstRegionTool : public QObject
{
    Q_OBJECT

    QTemporaryDir m_folder;
    std::unique_ptr<WindowDriver> m_driver;

    const Take &take() const { return *m_driver->session().take(); }
    const RegionStep *region() const
    {
        const Step *step = m_driver->session().step();
        return step ? dynamic_cast<const RegionStep *>(step->shape.get()) : nullptr;
    }
    /// Until the exact answer is there and seen.
    void settle()
    {
        QVERIFY(QTest::qWaitFor(
            [this] { return !m_driver->window().toolbox().the<app::RegionTool>().isUnfinished(); },
            90000));
        m_driver->settle();
    }
    int colour(double x, double y) { return test::colourfulness(m_driver->colourAt(x, y)); }
    void click(double x, double y, Qt::KeyboardModifiers modifiers = Qt::NoModifier)
    {
        m_driver->paint({{x, y}}, modifiers);
        settle();
    }

private Q_SLOTS:
    void init()
    {
        m_driver = std::make_unique<WindowDriver>(m_folder.path());
        QVERIFY(m_driver->open(test::demo("washing-line.jpg")));
        m_driver->settle();
        m_driver->key(Qt::Key_2);
        QCOMPARE(m_driver->window().toolbox().current().kind(), std::string("region"));
    }
    void cleanup() { m_driver.reset(); }

    void aClickKeepsTheClothAndFurtherMarksGoIntoTheSameStep()
    {
        click(950, 800);
        QVERIFY(region());
        QCOMPARE(app::summaryOf(*region()), QStringLiteral("1 mark"));
        QVERIFY(colour(700, 500) > 40); // all of the cloth
        QCOMPARE(colour(400, 700), 0);  // the yellow one stays grey
        click(1650, 750);               // the blue one joins
        QCOMPARE(take().keeps[0].steps.size(), size_t(1));
        QVERIFY(colour(1650, 800) > 40);
        click(1600, 600, Qt::ControlModifier); // and is left out again
        QCOMPARE(region()->ask().marks.size(), size_t(3));
        QVERIFY(region()->ask().marks[2].isLeave);
        QCOMPARE(region()->plane().at(1600, 600), uint16_t(0));
        QVERIFY(colour(700, 500) > 40);
        click(1600, 600, Qt::ControlModifier); // Ctrl on a mark takes the mark away
        QCOMPARE(region()->ask().marks.size(), size_t(2));
        QCOMPARE(region()->plane().at(1600, 600), uint16_t(65535));
        m_driver->key(Qt::Key_Z, Qt::ControlModifier);
        m_driver->settle();
        QCOMPARE(region()->plane().at(1600, 600), uint16_t(0));
    }

    void aStrokeShowsWhatGrowsBeforeItLands()
    {
        auto &canvas = m_driver->canvas();
        QTest::mousePress(&canvas, Qt::LeftButton, Qt::NoModifier, m_driver->at(900, 500));
        for (int y = 520; y < 1100; y += 60) {
            QTest::mouseMove(&canvas, m_driver->at(900, y));
            QCoreApplication::processEvents();
        }
        QVERIFY(QTest::qWaitFor([this] { return colour(760, 600) > 40; }, 90000));
        QVERIFY(m_driver->session().history().entries().size() == 1); // not yet
        QTest::mouseRelease(&canvas, Qt::LeftButton, Qt::NoModifier, m_driver->at(900, 1100));
        settle();
        QCOMPARE(m_driver->session().history().entries().size(), size_t(2));
        QVERIFY(region()->ask().marks[0].points.size() > 5);
    }

    void escapeDropsTheUnfinishedMove()
    {
        m_driver->paint({{950, 800}});
        QVERIFY(m_driver->window().toolbox().the<app::RegionTool>().isUnfinished());
        m_driver->key(Qt::Key_Escape);
        settle();
        QVERIFY(take().keeps[0].steps.empty());
        QCOMPARE(colour(700, 500), 0);
        QCOMPARE(m_driver->session().history().entries().size(), size_t(1));
    }

    void aBoxIsAStartAndSizesAreOneKey()
    {
        m_driver->paint({{560, 300}, {800, 700}, {1380, 1400}}, Qt::ShiftModifier);
        settle();
        QVERIFY(region());
        QCOMPARE(app::summaryOf(*region()), QStringLiteral("from a box"));
        QVERIFY(colour(950, 800) > 40);
        m_driver->key(Qt::Key_W);
        settle();
        QCOMPARE(region()->ask().reach, app::RegionTool::kReachStep);
        m_driver->key(Qt::Key_Q);
        settle();
        QCOMPARE(region()->ask().reach, 0.0F);
        QCOMPARE(take().keeps[0].steps.size(), size_t(1));
    }

    /// The same by the mouse, in the step's details; what is shown while the slider moves is rough.
    void aSliderSizesItAndAButtonGrowsItAgain()
    {
        click(950, 800);
        const auto before = test::pixelsOf(region()->plane());
        auto *slider = [&]() -> app::Slider * {
            for (auto *each : m_driver->window().findChildren<app::Slider *>())
                if (each->isVisible() && each->accessibleName() == QLatin1String("Size"))
                    return each;
            return nullptr;
        }();
        QVERIFY(slider);
        const size_t entries = m_driver->session().history().entries().size();
        const int y = slider->height() - 8;
        QTest::mousePress(slider, Qt::LeftButton, {}, {slider->width() / 2, y});
        QTest::mouseMove(slider, {slider->width() * 3 / 5, y});
        QTest::mouseMove(slider, {slider->width() * 4 / 5, y});
        QVERIFY(m_driver->window().toolbox().the<app::RegionTool>().isBusy());
        QTest::mouseRelease(slider, Qt::LeftButton, {}, {slider->width() * 4 / 5, y});
        settle();
        QVERIFY(region()->ask().reach > 0.4F);
        QCOMPARE(m_driver->session().history().entries().size(), entries + 1);
        QTest::mouseDClick(slider, Qt::LeftButton, {}, {slider->width() / 2, y});
        settle();
        QCOMPARE(region()->ask().reach, 0.0F);
        QVERIFY(test::pixelsOf(region()->plane()) == before);
        // A mask from elsewhere, as of another version: grown again it is this one's.
        const Step broken = *m_driver->session().step();
        m_driver->session().edit(
            QStringLiteral("broken"), withStep(take(), take().keeps[0].id, broken.id, [&](Step &s) {
                s.shape = std::make_shared<RegionStep>(region()->ask(), MaskPlane(2400, 1600, 0));
            }));
        for (auto *button : m_driver->window().findChildren<QPushButton *>())
            if (button->isVisible() && button->text() == QStringLiteral("Grow again"))
                QTest::mouseClick(button, Qt::LeftButton, {}, button->rect().center());
        settle();
        QVERIFY(test::pixelsOf(region()->plane()) == before);
    }

    void itIsSavedWithItsMask()
    {
        click(950, 800);
        const auto before = test::pixelsOf(region()->plane());
        const QString file = m_folder.filePath(QStringLiteral("cloth.buttonhole"));
        QVERIFY(m_driver->save(file));
        QVERIFY(m_driver->open(file));
        const auto &step = dynamic_cast<const RegionStep &>(*take().keeps[0].steps[0].shape);
        QCOMPARE(step.ask().marks.size(), size_t(1));
        QCOMPARE(test::pixelsOf(step.plane()), before);
    }
};

BUTTONHOLE_TEST(TstRegionTool)

#include "tst_region_tool.moc"

#include "mask/region_step.h"
#include "registry.h"
#include "samples.h"
#include "tools/subject_tool.h"
#include "window_driver.h"

#include <QTemporaryDir>

#include <cmath>

using namespace buttonhole;
using test::WindowDriver;

/// Clicks with the Subject tool, and marks after them.
class TstSubjectMarks : public QObject
{
    Q_OBJECT

    QTemporaryDir m_folder;
    std::unique_ptr<WindowDriver> m_driver;

    app::SubjectTool &tool() { return m_driver->window().toolbox().the<app::SubjectTool>(); }
    const RegionStep *subject() const
    {
        const auto &steps = m_driver->session().take()->keeps[0].steps;
        return steps.empty() ? nullptr
                             : dynamic_cast<const RegionStep *>(steps.front().shape.get());
    }
    void settle()
    {
        QVERIFY(QTest::qWaitFor([this] { return !tool().isUnfinished(); }, 60000));
        m_driver->settle();
    }
    int colour(double x, double y) { return test::colourfulness(m_driver->colourAt(x, y)); }

private Q_SLOTS:
    void init()
    {
        m_driver = std::make_unique<WindowDriver>(m_folder.path());
        QVERIFY(m_driver->open(
            QStringLiteral("/usr/lib/python3/dist-packages/skimage/data/astronaut.png")));
        m_driver->settle();
    }
    void cleanup() { m_driver.reset(); }

    /// W takes the next larger thing as long as there is one, Q goes back, and then to colour.
    void sizesAreWalkedThroughByKeys()
    {
        m_driver->key(Qt::Key_8);
        m_driver->paint({{120, 300}}); // before anything is offered
        settle();
        QVERIFY(subject() && subject()->ask().marks.size() == 1);
        QVERIFY(colour(222, 110) > 20); // all of the person
        const MaskPlane person = subject()->plane();
        for (int i = 0; i < 6; ++i) {
            m_driver->key(Qt::Key_W);
            settle();
        }
        const float most = subject()->ask().reach;
        QVERIFY(most < 1);
        const int moves = int(std::lround(most / app::RegionTool::kReachStep));
        QVERIFY(test::meanOf(subject()->plane()) >= test::meanOf(person));
        for (int i = 0; i < moves; ++i) { // nothing stands between: where there is no larger one
            m_driver->key(Qt::Key_Q);
            settle();
        }
        QVERIFY(samePixels(subject()->plane(), person));
        m_driver->key(Qt::Key_Q);
        settle();
        QVERIFY(test::meanOf(subject()->plane()) < test::meanOf(person));
        QVERIFY(subject()->plane().at(120, 300) > 0);
    }

    /// Every mark counts, also the tenth; Esc drops one that is still under the pointer.
    void marksHoldAndEscDropsOne()
    {
        m_driver->key(Qt::Key_8);
        m_driver->paint({{120, 300}});
        settle();
        const QList<QPoint> places{{400, 100}, {440, 420}, {60, 60},   {330, 180}, {480, 250},
                                   {225, 60},  {150, 420}, {300, 420}, {90, 200},  {440, 60}};
        for (int i = 0; i < places.size(); ++i) {
            m_driver->paint({places[i]}, i % 2 == 0 ? Qt::ControlModifier : Qt::NoModifier);
            settle();
        }
        QCOMPARE(subject()->ask().marks.size(), size_t(11));
        for (int i = 0; i < places.size(); ++i)
            QCOMPARE(subject()->plane().at(places[i].x(), places[i].y()),
                     uint16_t(i % 2 == 0 ? 0 : 65535));
        const auto before = subject()->plane();
        QTest::mousePress(&m_driver->canvas(), Qt::LeftButton, Qt::ControlModifier,
                          m_driver->at(225, 60));
        QVERIFY(tool().isUnfinished());
        m_driver->key(Qt::Key_Escape);
        QTest::mouseRelease(&m_driver->canvas(), Qt::LeftButton, Qt::ControlModifier,
                            m_driver->at(225, 60));
        settle();
        QCOMPARE(subject()->ask().marks.size(), size_t(11));
        QVERIFY(samePixels(subject()->plane(), before));
    }
};

BUTTONHOLE_TEST(TstSubjectMarks)

#include "tst_subject_marks.moc"

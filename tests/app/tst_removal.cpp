#include "controls/slider.h"
#include "ticket/ticket.h"

#include "prepare_fixture.h"
#include "registry.h"

#include <QLabel>
#include <QSignalSpy>

using namespace buttonhole;
using test::WindowDriver;

/// Something taken out of the photo, by mouse and keys.
class TstTakeOut : public test::PrepareFixture
{
    Q_OBJECT

    const std::vector<Removal> &removals() { return m_driver->session().work().take().removals; }
    bool isFilled() { return !removals().empty() && removals()[0].patch; }
    QString said() { return child<QLabel>("removalSaid").text(); }

    /// Marks a disc of the photo as what is to go, by the brush.
    void mark()
    {
        openPage(QStringLiteral("Clean"));
        press("newRemoval");
        m_driver->key(Qt::Key_1);
        m_driver->window().brush().setTip({120, 1, 1, 1, PressureSteers::Nothing});
        m_driver->paint({{600, 300}, {640, 300}});
        m_driver->settle();
    }
    void select()
    {
        m_driver->session().select({app::TicketLine::Kind::Removal, removals()[0].id});
    }

private Q_SLOTS:
    void init()
    {
        m_driver = std::make_unique<WindowDriver>(m_folder.path());
        // A dark ball on the sky, and nothing grey.
        QImage photo(test::demo("washing-line.jpg"));
        for (int y = -50; y <= 50; ++y)
            for (int x = -50; x <= 50; ++x)
                if (x * x + y * y < 2400)
                    photo.setPixelColor(620 + x, 300 + y, QColor(20, 20, 24));
        const QString path = m_folder.filePath(QStringLiteral("ball.png"));
        QVERIFY(photo.save(path));
        QVERIFY(m_driver->open(path));
    }
    void cleanup() { m_driver.reset(); }

    void whatIsMarkedIsFilled()
    {
        const int was = m_driver->colourAt(620, 300).lightness();
        const int sky = m_driver->colourAt(620, 180).lightness();
        QVERIFY(was < 60 && sky > 100);
        mark();
        QCOMPARE(removals().size(), size_t(1));
        QCOMPARE(removals()[0].steps.size(), size_t(1));
        QVERIFY(m_driver->session().work().take().keeps[0].steps.empty());
        // What is marked is seen while it is not filled.
        QVERIFY(test::colourfulness(m_driver->colourAt(620, 300)) > 10);
        select();
        QVERIFY(said().contains(QStringLiteral("Fill it")));
        press("fillRemoval");
        QTRY_VERIFY_WITH_TIMEOUT(isFilled(), 30000);
        QCOMPARE(said(), QStringLiteral("Filled."));
        m_driver->settle();
        QVERIFY(std::abs(m_driver->colourAt(620, 300).lightness() - sky) < 40);

        // Its ticket line, undo, and its way through a file.
        m_driver->session().undo();
        m_driver->settle();
        QVERIFY(!isFilled());
        m_driver->session().redo();
        QVERIFY(isFilled());
        const QString file = m_folder.filePath(QStringLiteral("out.buttonhole"));
        QVERIFY(m_driver->save(file));
        QVERIFY(m_driver->open(file));
        QVERIFY(isFilled() && !removals()[0].isStale());
        select();
        QTest::keyClick(&m_driver->canvas(), Qt::Key_Delete);
        QVERIFY(removals().empty());
    }

    void anotherTryAndAGrownMark()
    {
        mark();
        select();
        QVERIFY(!child<QToolButton>("tryAgain").isEnabled());
        press("fillRemoval");
        QTRY_VERIFY_WITH_TIMEOUT(isFilled(), 30000);
        const auto first = removals()[0].patch;
        press("tryAgain");
        QTRY_VERIFY_WITH_TIMEOUT(removals()[0].patch != first, 30000);
        QCOMPARE(removals()[0].tries, 1.0F);
        auto &grow = child<app::Slider>("removal.growPx");
        grow.setFocus();
        QTest::keyClick(&grow, Qt::Key_Right);
        QVERIFY(removals()[0].isStale());
        QVERIFY(said().contains(QStringLiteral("changed")));
        press("fillRemoval");
        QTRY_VERIFY_WITH_TIMEOUT(!removals()[0].isStale(), 30000);
    }

    /// What was filled is marked once more: the mark is seen, all of it.
    void marksAfterFillingAreSeen()
    {
        mark();
        select();
        press("fillRemoval");
        QTRY_VERIFY_WITH_TIMEOUT(isFilled(), 30000);
        m_driver->settle();
        QCOMPARE(test::colourfulness(m_driver->colourAt(620, 300)), 0);
        m_driver->paint({{900, 300}, {940, 300}});
        m_driver->hover(100, 100);
        m_driver->settle();
        QVERIFY(removals()[0].isStale());
        for (const int x : {620, 920})
            QVERIFY(test::colourfulness(m_driver->colourAt(x, 300)) > 10);
    }

    void aSourceIsDrawn()
    {
        mark();
        select();
        press("fillFrom");
        drag(m_driver->at(200, 100), m_driver->at(500, 420));
        const Rect source = removals()[0].source;
        QVERIFY(std::abs(source.x0 - 200) < 6 && std::abs(source.y1 - 420) < 6);
        press("fillRemoval");
        QTRY_VERIFY_WITH_TIMEOUT(isFilled(), 30000);
        press("fillFrom"); // no longer drawn
        press("fillFrom"); // from all round about again
        QVERIFY(removals()[0].source.isEmpty());
    }

    void fillingIsStopped()
    {
        mark();
        select();
        press("fillRemoval");
        QCOMPARE(child<QToolButton>("fillRemoval").text(), QStringLiteral("Stop"));
        press("fillRemoval");
        QTRY_COMPARE_WITH_TIMEOUT(child<QToolButton>("fillRemoval").text(), QStringLiteral("Fill"),
                                  10000);
        QTest::qWait(300); // an answer that comes all the same would be there by now
        QVERIFY(!isFilled());
    }
};

BUTTONHOLE_TEST(TstTakeOut)

#include "tst_removal.moc"

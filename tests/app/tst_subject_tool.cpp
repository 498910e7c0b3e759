#include "commands/step_words.h"
#include "controls/help_text.h"
#include "mask/region_step.h"
#include "registry.h"
#include "tools/subject_strip.h"
#include "window/status_row.h"
#include "window_driver.h"

#include <QLabel>
#include <QListWidget>
#include <QTemporaryDir>
#include <QToolButton>

using namespace buttonhole;
using test::WindowDriver;

namespace
{

int greatestDifference(const QImage &a, const QImage &b)
{
    if (a.size() != b.size())
        return 255;
    int greatest = 0;
    for (int y = 0; y < a.height(); ++y)
        for (int x = 0; x < a.width(); ++x) {
            const QColor one = a.pixelColor(x, y);
            const QColor other = b.pixelColor(x, y);
            greatest = std::max({greatest, std::abs(one.red() - other.red()),
                                 std::abs(one.green() - other.green()),
                                 std::abs(one.blue() - other.blue())});
        }
    return greatest;
}

} // namespace

class TstSubjectTool : public QObject
{
    Q_OBJECT

    QTemporaryDir m_folder;
    std::unique_ptr<WindowDriver> m_driver;

    app::SubjectTool &tool() { return m_driver->window().toolbox().the<app::SubjectTool>(); }
    const Take &take() const { return *m_driver->session().take(); }
    const RegionStep *subject(size_t i = 0) const
    {
        const auto &steps = take().keeps[0].steps;
        return i < steps.size() ? dynamic_cast<const RegionStep *>(steps[i].shape.get()) : nullptr;
    }
    void settle()
    {
        QVERIFY(QTest::qWaitFor([this] { return !tool().isUnfinished(); }, 90000));
        m_driver->settle();
    }
    void lookOver()
    {
        m_driver->key(Qt::Key_8);
        QVERIFY(QTest::qWaitFor(
            [this] { return tool().state() != app::SubjectTool::State::Looking; }, 30000));
    }
    void open()
    {
        m_driver = std::make_unique<WindowDriver>(m_folder.path());
        QVERIFY(m_driver->open(
            QStringLiteral("/usr/lib/python3/dist-packages/skimage/data/astronaut.png")));
        m_driver->settle();
    }
    int colour(double x, double y) { return test::colourfulness(m_driver->colourAt(x, y)); }

private Q_SLOTS:
    void init() { open(); }
    void cleanup()
    {
        qunsetenv("BUTTONHOLE_MODELS");
        m_driver.reset();
    }

    void aBoxBesideThePhotoAsksForNothing_data()
    {
        QTest::addColumn<QPointF>("to");
        QTest::addColumn<bool>("waits");
        QTest::newRow("a click on the surround") << QPointF(-40, 300) << true;
        QTest::newRow("a box on the surround") << QPointF(-10, 400) << true;
        QTest::newRow("a click, the answer on its way") << QPointF(-40, 300) << false;
        QTest::newRow("a box, the answer on its way") << QPointF(-10, 400) << false;
    }
    void aBoxBesideThePhotoAsksForNothing()
    {
        QFETCH(QPointF, to);
        QFETCH(bool, waits);
        m_driver->key(Qt::Key_8);
        m_driver->paint({{200, 300}, {230, 330}}); // before anything is offered
        if (waits)
            settle();
        m_driver->paint({{-40, 300}, to}, Qt::ShiftModifier);
        settle();
        const RegionStep *step = subject();
        QVERIFY(step);
        QCOMPARE(step->ask().marks.size(), size_t(1)); // as it was
        QVERIFY(!step->ask().box);
        QVERIFY(!step->plane().isEmpty());
    }

    void pointingLightsAndAClickKeeps()
    {
        lookOver();
        QCOMPARE(tool().state(), app::SubjectTool::State::Looked);
        QVERIFY(m_driver->canvas().hint().contains(QStringLiteral("Shift-drag a box")));
        QVERIFY(tool().offers().size() >= 3); // the main subject, a person, a face
        // Outlines come in one after the other; then only what would be kept is pointed at.
        QVERIFY(QTest::qWaitFor(
            [this] {
                return std::none_of(tool().offers().begin(), tool().offers().end(),
                                    [](const auto &offer) { return offer.outline.isEmpty(); });
            },
            60000));
        m_driver->settle();
        const QImage oneByOne = m_driver->canvas().grab().toImage();
        m_driver->canvas().zoomBy(2);
        m_driver->settle();
        (void)m_driver->canvas().grab();
        m_driver->canvas().fit();
        m_driver->settle();
        // Where a line crosses what was drawn anew its coverage may be rounded otherwise.
        QVERIFY(greatestDifference(m_driver->canvas().grab().toImage(), oneByOne) <= 1);
        const auto person =
            std::find_if(tool().offers().begin(), tool().offers().end(),
                         [](const auto &offer) { return offer.found.word == "person"; });
        QVERIFY(person->outline.contains({120, 300}));
        const Rect box = person->found.box;
        m_driver->hover(box.x0 + 3, box.y0 + 3); // a corner of the box
        QVERIFY(!person->outline.contains({box.x0 + 3.0, box.y0 + 3.0}));
        QCOMPARE(tool().lit(), -1);
        m_driver->hover(120, 300);
        QVERIFY(tool().lit() >= 0);
        QCOMPARE(tool().offers()[tool().lit()].found.word, std::string("person"));
        m_driver->hover(222, 140); // the smaller one where several lie over each other
        QCOMPARE(tool().offers()[tool().lit()].found.word, std::string("face"));
        m_driver->hover(120, 300);
        QTest::mouseClick(&m_driver->canvas(), Qt::LeftButton, {}, m_driver->at(120, 300));
        settle();
        QVERIFY(subject());
        QCOMPARE(subject()->note()->word, std::string("person"));
        QCOMPARE(app::summaryOf(*subject()), QStringLiteral("person, 1 mark"));
        QVERIFY(m_driver->canvas().hint().isEmpty());
        QVERIFY(colour(120, 330) > 40); // beside the mark
        QVERIFY(colour(222, 110) > 20);
        QCOMPARE(colour(20, 120), 0); // the flag
        // The box that it was found in is not drawn: another tool shows the same there.
        const QPoint corner = m_driver->at(box.x0, box.y0);
        const QRect edge(corner + QPoint(-4, -4), QSize(60, 60));
        const QImage taken = m_driver->canvas().grab(edge).toImage();
        m_driver->key(Qt::Key_7);
        QCOMPARE(m_driver->canvas().grab(edge).toImage(), taken);
        m_driver->key(Qt::Key_8);
        // What was found is offered no longer: clicks are marks of this step now.
        m_driver->paint({{225, 50}}, Qt::ControlModifier);
        settle();
        QCOMPARE(take().keeps[0].steps.size(), size_t(1));
        QCOMPARE(subject()->ask().marks.size(), size_t(2));
        QVERIFY(subject()->ask().marks[1].isLeave);
        QCOMPARE(subject()->plane().at(225, 50), uint16_t(0));
        QVERIFY(colour(120, 330) > 40);
        m_driver->key(Qt::Key_Z, Qt::ControlModifier);
        QCOMPARE(subject()->ask().marks.size(), size_t(1));
        m_driver->key(Qt::Key_Z, Qt::ControlModifier);
        m_driver->settle();
        QVERIFY(take().keeps[0].steps.empty());
        QCOMPARE(colour(120, 330), 0);
    }

    /// A shelf of spools: tracing all of them takes seconds, and paging through them as well.
    void ofManyWhatIsPointedAtComesFirst()
    {
        QVERIFY(m_driver->open(test::demo("spools.jpg")));
        m_driver->settle();
        lookOver();
        const auto &offers = tool().offers();
        QVERIFY(offers.size() > 20);
        auto *list =
            m_driver->window().findChild<app::SubjectStrip *>()->findChild<QListWidget *>();
        QCOMPARE(list->item(1)->text(), QStringLiteral("all things"));
        const Rect &box = offers.last().found.box;
        m_driver->hover((box.x0 + box.x1) / 2.0, (box.y0 + box.y1) / 2.0);
        const int lit = tool().lit();
        QVERIFY(lit > 0);
        QVERIFY(QTest::qWaitFor([&] { return offers[lit].isTraced; }, 20000));
        QVERIFY(!offers[lit].outline.isEmpty());
        const auto traced = std::count_if(offers.begin(), offers.end(),
                                          [](const auto &offer) { return offer.isTraced; });
        QVERIFY2(traced < offers.size() / 2, qPrintable(QString::number(traced)));
    }

    void theStripOffersPicturesAndShiftGathers()
    {
        lookOver();
        auto *list =
            m_driver->window().findChild<app::SubjectStrip *>()->findChild<QListWidget *>();
        QCOMPARE(list->count(), int(tool().offers().size()));
        QVERIFY(!list->item(0)->icon().isNull());
        QVERIFY(list->item(1)->text().startsWith(QStringLiteral("person ")));
        int face = 0;
        while (list->item(face)->text() != QStringLiteral("face"))
            ++face;
        const auto isSeen = [&] { // what is cut off takes no click
            list->scrollToItem(list->item(face));
            return list->viewport()->rect().contains(list->visualItemRect(list->item(face)));
        };
        QTRY_VERIFY(isSeen());
        QTest::mouseClick(list->viewport(), Qt::LeftButton, {},
                          list->visualItemRect(list->item(face)).center());
        settle();
        QCOMPARE(subject()->note()->word, std::string("face"));
        QVERIFY(!subject()->note()->ovals.empty());
        QVERIFY(colour(222, 130) > 20);
        QCOMPARE(colour(120, 300), 0);
        // Over finished work offers are in the way: they light up with Shift, or from the strip.
        m_driver->session().select({app::TicketLine::Kind::Keep, take().keeps[0].id});
        m_driver->hover(120, 300);
        QCOMPARE(tool().lit(), -1);
        tool().light(face);
        QCOMPARE(tool().lit(), face);
        tool().light(-1);
        m_driver->key(Qt::Key_K, Qt::ControlModifier); // a keep of its own
        const QPoint at = m_driver->at(120, 300);
        QTest::mouseMove(&m_driver->canvas(), at);
        QTest::mouseClick(&m_driver->canvas(), Qt::LeftButton, {}, at);
        settle();
        QCOMPARE(take().keeps.size(), size_t(2));
        QCOMPARE(take().keeps[1].steps.size(), size_t(1));
    }

    /// What does not fit is reached by two buttons, which are seen only then.
    void aLongStripIsPaged()
    {
        m_driver = std::make_unique<WindowDriver>(m_folder.path(), QSize(900, 700));
        QVERIFY(m_driver->open(
            QStringLiteral("/usr/lib/python3/dist-packages/skimage/data/astronaut.png")));
        lookOver();
        auto &strip = *m_driver->window().findChild<app::SubjectStrip *>();
        auto &list = *strip.findChild<QListWidget *>();
        const auto pagers = strip.findChildren<QToolButton *>();
        QCOMPARE(pagers.size(), 2);
        const auto isSeen = [&](int i) {
            return list.viewport()->rect().contains(list.visualItemRect(list.item(i)).center());
        };
        const int last = list.count() - 1;
        QTRY_VERIFY(!isSeen(last) && pagers[1]->isVisible()); // when it is laid out
        auto &words = *strip.findChild<app::HelpText *>();
        QVERIFY(!words.isVisible()); // they would take room from what was found
        QVERIFY(pagers[1]->isVisible() && pagers[1]->isEnabled() && !pagers[0]->isEnabled());
        // What the end would cut through is left out, and no click takes it.
        const QRect all = list.viewport()->rect();
        QRect cut;
        for (int i = 0; i <= last; ++i)
            if (const QRect item = list.visualItemRect(list.item(i)); item.right() > all.right()) {
                cut = item & all;
                break;
            }
        if (cut.width() > 6) {
            const QImage seen = list.viewport()->grab(cut).toImage();
            for (int y = 0; y < seen.height(); ++y)
                for (int x = 0; x < seen.width(); ++x)
                    QCOMPARE(seen.pixel(x, y), seen.pixel(0, 0));
            QTest::mouseClick(list.viewport(), Qt::LeftButton, {}, cut.center());
            QVERIFY(take().keeps.empty() || take().keeps[0].steps.empty());
        }
        const auto pageTo = [&](int i, QToolButton *pager) {
            if (pager->isEnabled())
                QTest::mouseClick(pager, Qt::LeftButton);
            return isSeen(i) && !pager->isEnabled();
        };
        QTRY_VERIFY(pageTo(last, pagers[1]));
        QVERIFY(pagers[0]->isEnabled());
        QTRY_VERIFY(pageTo(0, pagers[0]));
        m_driver->window().resize(2400, 800);
        QTRY_VERIFY(isSeen(last) && !pagers[0]->isVisible() && !pagers[1]->isVisible());
        QVERIFY(words.isVisible());
        QVERIFY(words.fontMetrics().horizontalAdvance(words.text()) < 2 * words.width());
    }

    void shiftGathersByAClickAndBoxesByADrag()
    {
        lookOver();
        const auto shiftClick = [&](double x, double y) {
            QTest::mouseClick(&m_driver->canvas(), Qt::LeftButton, Qt::ShiftModifier,
                              m_driver->at(x, y));
            settle();
        };
        shiftClick(222, 140);
        QCOMPARE(subject()->note()->word, std::string("face"));
        shiftClick(120, 300);
        QCOMPARE(take().keeps[0].steps.size(), size_t(2));
        QCOMPARE(subject(1)->note()->word, std::string("person"));
        m_driver->session().select({app::TicketLine::Kind::Keep, take().keeps[0].id});
        m_driver->paint({{130, 330}, {170, 370}, {210, 410}}, Qt::ShiftModifier); // on the person
        settle();
        QCOMPARE(take().keeps[0].steps.size(), size_t(3));
        QVERIFY(subject(2)->note()->word.empty());
        QVERIFY(std::abs(subject(2)->ask().box->width() - 80) <= 2);
    }

    void savedSubjectsOpenWithoutTheModels()
    {
        lookOver();
        m_driver->hover(120, 300);
        QTest::mouseClick(&m_driver->canvas(), Qt::LeftButton, {}, m_driver->at(120, 300));
        settle();
        const QString work = m_folder.filePath(QStringLiteral("person.buttonhole"));
        QVERIFY(m_driver->save(work));
        QTemporaryDir none;
        qputenv("BUTTONHOLE_MODELS", none.path().toUtf8());
        m_driver = std::make_unique<WindowDriver>(m_folder.path());
        QVERIFY(m_driver->open(work));
        m_driver->settle();
        QVERIFY(subject());
        QVERIFY(colour(120, 330) > 40);
        QCOMPARE(colour(20, 120), 0);
        const auto said = [&] { return m_driver->window().status().said(); };
        QVERIFY(!said().contains(QStringLiteral("edge.onnx")));
        m_driver->session().edit(
            QStringLiteral("Soft edge"),
            withKeep(take(), take().keeps[0].id, [](Keep &k) { k.softEdgePx = 6; }));
        settle();
        QVERIFY(said().contains(QStringLiteral("edge.onnx")));
        // The tool says what is missing, and boxes still work.
        lookOver();
        QCOMPARE(tool().state(), app::SubjectTool::State::Failed);
        QVERIFY(tool().problem().contains(QStringLiteral("nanodet")));
        m_driver->session().select({app::TicketLine::Kind::Keep, take().keeps[0].id});
        m_driver->paint({{130, 330}, {170, 370}, {210, 410}}, Qt::ShiftModifier);
        settle();
        QCOMPARE(take().keeps[0].steps.size(), size_t(2));
        QCOMPARE(subject(1)->note()->models, std::string());
    }
};

BUTTONHOLE_TEST(TstSubjectTool)

#include "tst_subject_tool.moc"

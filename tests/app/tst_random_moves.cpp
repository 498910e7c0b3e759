#include "keeps_fixture.h"
#include "registry.h"

#include <QCheckBox>
#include <QProcess>

#include <random>

#include <malloc.h>
#include <unistd.h>

using namespace buttonhole;

/// Hundreds of moves by a hand that knows nothing of the window: whatever they are, undo and redo
/// come back to the same picture, and so does the file.
class TstRandomMoves : public test::KeepsFixture
{
    Q_OBJECT

    std::mt19937 m_random;

    int upTo(int n) { return int(m_random() % unsigned(n)); }

    void pressAKey()
    {
        using Modifiers = Qt::KeyboardModifiers;
        constexpr Modifiers kCtrl = Qt::ControlModifier;
        constexpr Modifiers kShift = Qt::ShiftModifier;
        constexpr Modifiers kAlt = Qt::AltModifier;
        static const std::pair<Qt::Key, Modifiers> keys[] = {{Qt::Key_1, {}},
                                                             {Qt::Key_2, {}},
                                                             {Qt::Key_3, {}},
                                                             {Qt::Key_4, {}},
                                                             {Qt::Key_5, {}},
                                                             {Qt::Key_6, {}},
                                                             {Qt::Key_7, {}},
                                                             {Qt::Key_8, {}},
                                                             {Qt::Key_A, {}},
                                                             {Qt::Key_S, {}},
                                                             {Qt::Key_D, {}},
                                                             {Qt::Key_Q, {}},
                                                             {Qt::Key_W, {}},
                                                             {Qt::Key_E, {}},
                                                             {Qt::Key_V, {}},
                                                             {Qt::Key_X, {}},
                                                             {Qt::Key_R, {}},
                                                             {Qt::Key_O, {}},
                                                             {Qt::Key_C, kShift},
                                                             {Qt::Key_V, kShift},
                                                             {Qt::Key_Z, kCtrl},
                                                             {Qt::Key_Z, kCtrl},
                                                             {Qt::Key_Z, kCtrl | kShift},
                                                             {Qt::Key_Delete, {}},
                                                             {Qt::Key_D, kCtrl},
                                                             {Qt::Key_K, kCtrl},
                                                             {Qt::Key_K, kCtrl | kShift},
                                                             {Qt::Key_Up, kAlt},
                                                             {Qt::Key_Down, kAlt},
                                                             {Qt::Key_Up, kAlt | kShift},
                                                             {Qt::Key_Down, kAlt | kShift},
                                                             {Qt::Key_Backspace, kCtrl},
                                                             {Qt::Key_Return, {}},
                                                             {Qt::Key_Escape, {}},
                                                             {Qt::Key_0, kCtrl},
                                                             {Qt::Key_1, kCtrl}};
        const auto &[key, modifiers] = keys[upTo(int(std::size(keys)))];
        m_driver->key(key, modifiers);
    }

    /// Clicks, or goes a crooked way over the photo and past its borders.
    void drag()
    {
        const Photo &photo = m_driver->session().levels()->photo();
        QList<QPointF> way{
            {double(upTo(photo.width + 200) - 100), double(upTo(photo.height + 200) - 100)}};
        for (int more = upTo(3) == 0 ? 0 : 1 + upTo(6); more > 0; --more)
            way.append(way.back() + QPointF(upTo(400) - 200, upTo(400) - 200));
        const Qt::KeyboardModifiers held[] = {{},
                                              {},
                                              {},
                                              Qt::ControlModifier,
                                              Qt::ShiftModifier,
                                              Qt::ControlModifier | Qt::ShiftModifier};
        m_driver->paint(way, held[upTo(int(std::size(held)))]);
    }

    template <class Widget>
    std::vector<Widget *> seen()
    {
        std::vector<Widget *> out;
        for (auto *each : m_driver->window().findChildren<Widget *>())
            if (each->isVisible() && each->isEnabled())
                out.push_back(each);
        return out;
    }

    void moveASlider()
    {
        const auto sliders = seen<app::Slider>();
        if (sliders.empty())
            return;
        app::Slider *slider = sliders[size_t(upTo(int(sliders.size())))];
        const auto place = [&] { return QPoint(upTo(slider->width()), slider->height() - 8); };
        QTest::mousePress(slider, Qt::LeftButton, {}, place());
        QTest::mouseMove(slider, place());
        QTest::mouseRelease(slider, Qt::LeftButton, {}, place());
    }

    void chooseALine()
    {
        const auto rows = m_driver->window().ticket().rows();
        auto *row = rows[upTo(int(rows.size()))];
        QTest::mouseClick(row, Qt::LeftButton, {}, row->rect().center());
        for (auto *box : seen<QCheckBox>())
            if (upTo(8) == 0)
                QTest::mouseClick(box, Qt::LeftButton, {}, {8, box->height() / 2});
    }

    void walk(int seed, int moves)
    {
        m_random.seed(unsigned(seed));
        for (int i = 0; i < moves; ++i) {
            const int what = upTo(10);
            if (what < 4)
                pressAKey();
            else if (what < 8)
                drag();
            else if (what == 8)
                moveASlider();
            else
                chooseALine();
            if (upTo(3) == 0)
                QTest::qWait(upTo(60)); // in the midst of what is worked out
            if (moves >= 1000 && i % 500 == 499)
                qInfo("%d moves, %.0f MB", i + 1, heldMb());
        }
        m_driver->key(Qt::Key_Escape);
        m_driver->settle();
    }

    /// Memory of this process, without what the heap keeps for later.
    static double heldMb()
    {
        ::malloc_trim(0);
        QFile file(QStringLiteral("/proc/self/statm"));
        const bool isOpen = file.open(QFile::ReadOnly);
        const QList<QByteArray> pages = isOpen ? file.readAll().split(' ') : QList<QByteArray>();
        return pages.size() > 1 ? pages[1].toDouble() * double(::sysconf(_SC_PAGESIZE)) / 1e6 : 0;
    }

    QImage exported()
    {
        m_driver->settle();
        const QString file = m_folder.filePath(QStringLiteral("now.png"));
        ExportSettings settings;
        settings.format = ExportSettings::Format::Png;
        return m_driver->exportTo(file, settings) ? QImage(file) : QImage();
    }

private Q_SLOTS:
    void init() { openWashingLine(); }
    void cleanup() { m_driver.reset(); }

    void undoRedoAndTheFileComeToTheSame_data()
    {
        QTest::addColumn<int>("seed");
#if defined(__SANITIZE_ADDRESS__)
        constexpr int kSeeds = 1;
#else
        constexpr int kSeeds = 3;
#endif
        for (int seed = 1; seed <= kSeeds; ++seed)
            QTest::addRow("seed %d", seed) << seed;
    }
    void undoRedoAndTheFileComeToTheSame()
    {
        QFETCH(int, seed);
        const QImage opened = exported();
        walk(seed, 100);
        const QImage now = exported();
        QVERIFY(!now.isNull());
        const History &history = m_driver->session().history();
        QVERIFY(history.canUndo());
        while (history.canUndo())
            m_driver->session().undo();
        QCOMPARE(exported(), opened);
        while (history.canRedo())
            m_driver->session().redo();
        QCOMPARE(exported(), now);
        const QString file = m_folder.filePath(QStringLiteral("work.buttonhole"));
        QVERIFY(m_driver->save(file));
        QVERIFY(m_driver->open(file));
        QCOMPARE(exported(), now);
    }

    /// Walks (scripts/walk makes them long), and then needs no more for its work than a window does
    /// that has just opened it.
    void aLongWalkGivesItsMemoryBack()
    {
#if defined(__SANITIZE_ADDRESS__)
        QSKIP("known: the sanitizer keeps memory that was given back");
#endif
        const int moves = std::max(60, qEnvironmentVariableIntValue("BUTTONHOLE_WALK_MOVES"));
        walk(std::max(1, qEnvironmentVariableIntValue("BUTTONHOLE_WALK_SEED")), moves);
        const QString file = m_folder.filePath(QStringLiteral("walked.buttonhole"));
        QVERIFY(m_driver->save(file));
        const std::weak_ptr<const PhotoLevels> before = m_driver->session().levels();
        QVERIFY(m_driver->open(file)); // no undo, as in a fresh window
        m_driver->settle();
        QTRY_VERIFY_WITH_TIMEOUT(m_driver->window().jobs().isIdle(), 60000);
        QVERIFY2(before.expired(), "something holds on to the photo that was open before");
        const double held = heldMb();
        QProcess fresh;
        QProcessEnvironment environment = QProcessEnvironment::systemEnvironment();
        environment.insert(QStringLiteral("BUTTONHOLE_WEIGHED"), file);
        fresh.setProcessEnvironment(environment);
        m_driver.reset(); // its lock
        fresh.start(QCoreApplication::applicationFilePath(),
                    {QStringLiteral("TstRandomMoves"), QStringLiteral("weighs")});
        QVERIFY(fresh.waitForFinished(120000));
        const QByteArray said = fresh.readAllStandardOutput() + fresh.readAllStandardError();
        const qsizetype at = said.indexOf("weighs MB: ");
        QVERIFY2(at >= 0, said.constData());
        const double needed = said.mid(at + 11, 8).trimmed().split(' ')[0].toDouble();
        qInfo("after %d moves %.0f MB are held, of a work that needs %.0f", moves, held, needed);
        QVERIFY2(held < needed * 1.3, said.constData());
    }
    /// Of a process of its own: what a work needs that has just been opened.
    void weighs()
    {
        const QString file = qEnvironmentVariable("BUTTONHOLE_WEIGHED");
        if (file.isEmpty())
            return;
        m_driver->key(Qt::Key_8); // nets stay once they were used, as the walk did
        QTRY_COMPARE_WITH_TIMEOUT(m_driver->window().toolbox().the<app::SubjectTool>().state(),
                                  app::SubjectTool::State::Looked, 60000);
        m_driver->key(Qt::Key_1);
        Take take = *m_driver->session().take();
        take.keeps[0].softEdgePx = 8;
        m_driver->session().edit(QStringLiteral("Soft edge"), take);
        m_driver->paint({{500, 500}, {600, 500}});
        m_driver->settle();
        QTRY_VERIFY_WITH_TIMEOUT(m_driver->window().jobs().isIdle(), 60000);
        m_driver->session().jumpTo(0); // nothing to ask about
        QVERIFY(m_driver->open(file));
        m_driver->settle();
        QTRY_VERIFY_WITH_TIMEOUT(m_driver->window().jobs().isIdle(), 60000);
        qInfo("weighs MB: %.0f ", heldMb());
    }
};

BUTTONHOLE_TEST(TstRandomMoves)

#include "tst_random_moves.moc"

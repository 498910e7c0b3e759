#include "keeps_fixture.h"
#include "registry.h"

#include <QCheckBox>

#include <random>

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
        for (int seed = 1; seed <= 3; ++seed)
            QTest::addRow("seed %d", seed) << seed;
    }
    void undoRedoAndTheFileComeToTheSame()
    {
        QFETCH(int, seed);
        m_random.seed(unsigned(seed));
        const QImage opened = exported();
        for (int i = 0; i < 100; ++i) {
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
        }
        m_driver->key(Qt::Key_Escape);
        QTest::qWait(300);
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
};

BUTTONHOLE_TEST(TstRandomMoves)

#include "tst_random_moves.moc"

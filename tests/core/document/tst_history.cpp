#include "document/history.h"

#include "registry.h"
#include "samples.h"

#include <QDir>
#include <QTemporaryDir>

using namespace buttonhole;

class TstHistory : public QObject
{
    Q_OBJECT

    static Work named(const char *name)
    {
        Take take = makeTake();
        take.name = name;
        return makeWork().with(std::move(take));
    }
    static std::string name(const History &history) { return history.present().take().name; }

    /// A work whose keep has one noisy tile per state: so many bytes that only undo holds.
    static Work heavy(int seed)
    {
        BrushPlanes planes(512, 512);
        uint32_t state = uint32_t(seed) * 7919U + 1;
        uint16_t *pixels = planes.lo.writable(seed % 2, 0);
        for (size_t i = 0; i < TileBlock::kCount; ++i) {
            state = state * 1664525U + 1013904223U;
            pixels[i] = uint16_t(state >> 16);
        }
        Take take = makeTake();
        take = withNewStep(take, take.keeps[0].id, Sign::Add,
                           std::make_shared<BrushStep>(BrushStep::Strokes{}, std::move(planes)));
        return makeWork().with(std::move(take));
    }

private Q_SLOTS:
    void goesBackAndForth()
    {
        History history(named("0"));
        QVERIFY(!history.canUndo() && !history.canRedo());
        history.push("one", named("1"));
        history.push("two", named("2"));
        history.undo();
        QCOMPARE(name(history), std::string("1"));
        history.undo();
        history.undo(); // nothing left: stays
        QCOMPARE(name(history), std::string("0"));
        history.redo();
        history.redo();
        history.redo();
        QCOMPARE(name(history), std::string("2"));
        history.jumpTo(1);
        history.push("other", named("3"));
        QVERIFY(!history.canRedo());
        QCOMPARE(history.entries().size(), size_t(3));
        QCOMPARE(history.entries().back().text, std::string("other"));
    }

    void dragsMergeUntilSealed()
    {
        History history(named("0"));
        history.push("Strength", named("a"), "strength-1");
        history.push("Strength", named("b"), "strength-1");
        QCOMPARE(history.entries().size(), size_t(2));
        history.push("Strength", named("c"), "strength-2");
        QCOMPARE(history.entries().size(), size_t(3));
        history.seal();
        history.push("Strength", named("d"), "strength-2");
        QCOMPARE(history.entries().size(), size_t(4));
        history.push("x", named("e"));
        history.push("x", named("f"));
        QCOMPARE(history.entries().size(), size_t(6));
        // Going back ends a drag too.
        history.push("Strength", named("g"), "s");
        history.undo();
        history.redo();
        history.push("Strength", named("h"), "s");
        QCOMPARE(history.entries().size(), size_t(8));
    }

    void knowsWhatIsSaved()
    {
        History history(named("0"));
        QVERIFY(history.isSaved());
        history.push("one", named("1"), "key");
        QVERIFY(!history.isSaved());
        history.markSaved(history.stateId());
        QVERIFY(history.isSaved());
        history.push("one", named("1b"), "key"); // merges into the saved entry
        QVERIFY(!history.isSaved());
        history.markSaved(history.stateId());
        history.undo();
        QVERIFY(!history.isSaved());
        history.redo();
        QVERIFY(history.isSaved());
        history.undo();
        history.push("two", named("2")); // the saved state is gone
        history.undo();
        QVERIFY(!history.isSaved());
        history.markUnsaved();
        QVERIFY(!history.isSaved());
    }

    void memoryStaysInItsBudget()
    {
        constexpr size_t kTile = TileBlock::kCount * sizeof(uint16_t);
        History history(heavy(0));
        history.setBudget(6 * kTile);
        for (int i = 1; i < 40; ++i) {
            history.push("stroke", heavy(i));
            QVERIFY(history.bytes() <= 6 * kTile);
        }
        QVERIFY(history.entries().size() < 10);
        QVERIFY(history.entries().size() > 5);
        QCOMPARE(history.entries().front().text, std::string("Earlier moves were let go"));
        // What is left is intact.
        const auto present = history.present().take().keeps[0];
        const auto expected = heavy(39).take().keeps[0];
        QCOMPARE(test::maskOf(present, {0, 0, 512, 512}), test::maskOf(expected, {0, 0, 512, 512}));
    }

    void beyondTheBudgetStatesGoToAFileAndComeBack()
    {
        constexpr size_t kTile = TileBlock::kBytes;
        const QTemporaryDir folder;
        History history(heavy(0));
        history.setBudget(6 * kTile, folder.path().toStdString());
        for (int i = 1; i < 40; ++i)
            history.push("stroke", heavy(i));
        history.settle();
        QCOMPARE(history.entries().size(), size_t(40)); // nothing was let go
        QVERIFY(history.bytes() <= 6 * kTile);
        QVERIFY(history.swappedBytes() >= 30 * kTile);
        QVERIFY(QDir(folder.path()).isEmpty()); // it has no name: nothing stays behind
        for (const size_t at : {0, 20, 39, 3}) {
            history.jumpTo(at);
            QCOMPARE(test::maskOf(history.present().take().keeps[0], {0, 0, 512, 512}),
                     test::maskOf(heavy(int(at)).take().keeps[0], {0, 0, 512, 512}));
        }
        history.push("other",
                     heavy(50)); // the states that could be redone are gone, and their room
        history.settle();
        QVERIFY(history.swappedBytes() < 6 * kTile);
    }

    void aFullDiskLetsGoInstead()
    {
        History history(heavy(0));
        history.setBudget(6 * TileBlock::kBytes, "/no/such/folder");
        for (int i = 1; i < 40; ++i)
            history.push("stroke", heavy(i));
        QVERIFY(history.bytes() <= 6 * TileBlock::kBytes);
        const QTemporaryDir folder;
        History small(heavy(0));
        small.setBudget(6 * TileBlock::kBytes, folder.path().toStdString(), 10 * TileBlock::kBytes);
        for (int i = 1; i < 60; ++i) {
            small.push("stroke", heavy(i));
            small.settle();
        }
        QVERIFY(small.swappedBytes() <= 12 * TileBlock::kBytes);
        QVERIFY(small.entries().size() > 12 && small.entries().size() < 25);
    }

    void lettingGoForgetsTheSavedState()
    {
        History history(heavy(0));
        history.setBudget(2 * TileBlock::kCount * sizeof(uint16_t));
        for (int i = 1; i < 10; ++i)
            history.push("stroke", heavy(i));
        while (history.canUndo())
            history.undo();
        QVERIFY(!history.isSaved());
    }

    void thePresentsColdTilesArePackedAndCount()
    {
        const Tip tip{100, 1, 1, 1, PressureSteers::Nothing};
        const auto strokes = [&](float y) {
            return test::makePaintedTake(1024, 512, {test::makeStroke(tip, {{100, y}, {900, y}})});
        };
        Take take = strokes(256);
        const auto before = test::maskOf(take.keeps[0], {0, 0, 1024, 512});
        History history(makeWork().with(take));
        for (int i = 0; i < 8; ++i) {
            take.name = std::to_string(i);
            history.push("named", makeWork().with(take));
        }
        history.settle();
        size_t packed = 0;
        size_t bytes = 0;
        history.present().take().visitPlanes([&](const MaskPlane &plane) {
            plane.visitBlocks([&](const auto &block) {
                packed += block->isPacked() ? 1 : 0;
                bytes += block->bytes();
            });
        });
        QVERIFY(packed >= 8);
        QCOMPARE(test::maskOf(history.present().take().keeps[0], {0, 0, 1024, 512}), before);

        // What the present holds is part of the budget: undo's tiles go to the file sooner.
        const QTemporaryDir folder;
        history.setBudget(bytes / 2, folder.path().toStdString());
        for (int i = 0; i < 12; ++i)
            history.push("stroke", makeWork().with(strokes(float(100 + 20 * i))));
        history.settle();
        QVERIFY(history.swappedBytes() > 0);
    }

    void thePresentsColdTilesFollowWhenUndoIsNotEnough()
    {
        constexpr Rect kAll{0, 0, 1024, 512};
        const Tip tip{300, 1, 1, 1, PressureSteers::Nothing};
        Take take =
            test::makePaintedTake(1024, 512, {test::makeStroke(tip, {{100, 256}, {900, 256}})});
        const auto before = test::maskOf(take.keeps[0], kAll);
        const auto bytesOfPresent = [](const History &history) {
            size_t bytes = 0;
            history.present().take().visitPlanes([&](const MaskPlane &plane) {
                plane.visitBlocks([&](const auto &block) { bytes += block->bytes(); });
            });
            return bytes;
        };
        const auto fitView = [&] {
            std::vector<uint16_t> out(256 * 128);
            take.visitPlanes([&](const MaskPlane &plane) {
                plane.readReduced(2, {0, 0, 256, 128}, out.data(), 256);
            });
            return out;
        };
        const auto fit = fitView();
        const QTemporaryDir folder;
        History history(makeWork().with(take));
        history.setBudget(TileBlock::kBytes, folder.path().toStdString());
        const auto passTime = [&](int moves) {
            for (int i = 0; i < moves; ++i) {
                take.name += '.';
                history.push("named", makeWork().with(take));
                history.settle();
            }
        };
        // The small levels alone are within this budget: they stay, and serve the whole view.
        passTime(10);
        const size_t small = bytesOfPresent(history);
        QVERIFY(history.swappedBytes() > 0);
        QVERIFY(small > 0 && small <= TileBlock::kBytes);
        QCOMPARE(fitView(), fit);
        QCOMPARE(bytesOfPresent(history), small);
        // Within a budget of nothing they go as well.
        history.setBudget(0, folder.path().toStdString());
        passTime(2);
        QCOMPARE(bytesOfPresent(history), size_t(0));
        QCOMPARE(fitView(), fit);
        QCOMPARE(bytesOfPresent(history), size_t(0)); // a look at all of it brings nothing back
        QCOMPARE(test::maskOf(take.keeps[0], kAll), before);
        QVERIFY(bytesOfPresent(history) > 0);
    }

    void oldStatesArePackedAndComeBack()
    {
        // Soft tiles shrink; four states either side of the present stay raw.
        const auto soft = [](int seed) {
            return makeWork().with(
                test::makePaintedTake(512, 512,
                                      {test::makeStroke({200, 1, 1, 1, PressureSteers::Nothing},
                                                        {{float(100 + seed * 10), 256}})}));
        };
        History history(soft(0));
        for (int i = 1; i < 12; ++i)
            history.push("stroke", soft(i));
        history.settle();
        int packed = 0;
        history.entries()[1].work.take().visitPlanes([&](const MaskPlane &plane) {
            plane.visitBlocks([&](const auto &block) { packed += block->isPacked() ? 1 : 0; });
        });
        QVERIFY(packed > 0);
        history.jumpTo(1);
        QCOMPARE(test::maskOf(history.present().take().keeps[0], {0, 0, 512, 512}),
                 test::maskOf(soft(1).take().keeps[0], {0, 0, 512, 512}));
    }
};

BUTTONHOLE_TEST(TstHistory)

#include "tst_history.moc"

#include "base/memo.h"

#include "registry.h"

#include <thread>

using namespace buttonhole;

namespace
{

Memo::Value number(int value)
{
    return std::make_shared<const int>(value);
}

int valueOf(const Memo::Value &value)
{
    return value ? *static_cast<const int *>(value.get()) : -1;
}

} // namespace

class TstMemo : public QObject
{
    Q_OBJECT
private Q_SLOTS:
    void makesOnceAndFindsAgain()
    {
        Memo memo(10);
        int made = 0;
        const auto make = [&] { return number(++made); };
        QCOMPARE(valueOf(memo.peek(7)), -1);
        QCOMPARE(valueOf(memo.find(7, make)), 1);
        QCOMPARE(valueOf(memo.find(7, make)), 1);
        QCOMPARE(valueOf(memo.peek(7)), 1);
        QCOMPARE(valueOf(memo.find(8, make)), 2);
    }

    void putReplaces()
    {
        Memo memo(10);
        memo.put(3, number(30));
        memo.put(3, number(31));
        QCOMPARE(valueOf(memo.peek(3)), 31);
        QCOMPARE(valueOf(memo.find(3, [] { return number(0); })), 31);
    }

    void theLongestUnusedGo()
    {
        Memo memo(10);
        for (int i = 0; i < 40; ++i) {
            memo.put(uint64_t(i), number(i));
            (void)memo.find(0, [] { return number(0); }); // in use all the time
        }
        QCOMPARE(valueOf(memo.peek(0)), 0);
        QCOMPARE(valueOf(memo.peek(39)), 39);
        QCOMPARE(valueOf(memo.peek(1)), -1);
    }

    /// Who asks for what is being made waits for it instead of making it too.
    void twoThreadsShareTheWork()
    {
        Memo memo(10);
        std::atomic<int> made = 0;
        const auto ask = [&] {
            return valueOf(memo.find(1, [&] {
                std::this_thread::sleep_for(std::chrono::milliseconds(30));
                return number(++made);
            }));
        };
        int other = 0;
        std::thread second([&] { other = ask(); });
        const int own = ask();
        second.join();
        QCOMPARE(own, 1);
        QCOMPARE(other, 1);
        QCOMPARE(made.load(), 1);
    }

    /// One failure must not stay as the answer.
    void whatFailsIsTriedAgain()
    {
        Memo memo(10);
        const auto fail = []() -> Memo::Value { throw std::bad_alloc(); };
        QVERIFY_EXCEPTION_THROWN((void)memo.find(5, fail), std::bad_alloc);
        QVERIFY(!memo.find(5, []() -> Memo::Value { return nullptr; }));
        QCOMPARE(valueOf(memo.find(5, [] { return number(50); })), 50);
    }
};

BUTTONHOLE_TEST(TstMemo)

#include "tst_memo.moc"

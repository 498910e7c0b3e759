#include "jobs/side_by_side.h"
#include "registry.h"

#include <QSemaphore>
#include <QThread>
#include <QtTest>

#include <atomic>

using namespace buttonhole;

class TstSideBySide : public QObject
{
    Q_OBJECT

private Q_SLOTS:
    void eachIsDoneOnceBeforeItReturns()
    {
        app::SideBySide threads;
        for (const int count : {0, 1, 2, 7, 300}) {
            std::vector<std::atomic<int>> done(static_cast<size_t>(count));
            threads.run(count, [&](int i) { ++done[size_t(i)]; });
            for (const auto &times : done)
                QCOMPARE(times.load(), 1);
        }
    }

    void whatAnotherThreadHasBegunIsWaitedFor()
    {
        if (QThread::idealThreadCount() < 2)
            QSKIP("known: needs two processors");
        app::SideBySide threads;
        std::atomic<int> finished = 0;
        QSemaphore meet;
        // Two bodies that end only when both have begun: on two threads.
        threads.run(2, [&](int) {
            meet.release();
            while (meet.available() < 2)
                QThread::yieldCurrentThread();
            ++finished;
        });
        QCOMPARE(finished.load(), 2);
    }

    /// What they would call is gone by then.
    void helpersThatComeTooLateFindNothing()
    {
        app::SideBySide threads;
        for (int round = 0; round < 2000; ++round) {
            std::atomic<int> sum = 0;
            threads.run(3, [&](int i) { sum += i + 1; });
            QCOMPARE(sum.load(), 6);
        }
    }
};

BUTTONHOLE_TEST(TstSideBySide)

#include "tst_side_by_side.moc"

#include "jobs/jobs.h"
#include "jobs/side_by_side.h"
#include "window/application.h"

#include "registry.h"

#include <QSignalSpy>
#include <QTest>
#include <QTimer>

using namespace buttonhole;

/// What is thrown anywhere is told, and the window lives on.
class TstJobs : public QObject
{
    Q_OBJECT

    static int throwing() { throw std::runtime_error("a library's own words"); }

private Q_SLOTS:
    void whatAJobThrowsIsItsError()
    {
        app::Jobs jobs;
        std::optional<Error> error;
        jobs.start(
            QStringLiteral("Weaving"), [](const Run &) -> Result<int> { return throwing(); },
            [&](const Result<int> &result) { error = result.error(); });
        QTRY_VERIFY(error.has_value());
        QCOMPARE(error->kind, ErrorKind::Internal);
        QCOMPARE(error->subject, std::string("Weaving"));
        QVERIFY(jobs.isIdle());
        bool isDone = false; // and where no error can be told, there is nothing
        jobs.start(
            {}, [](const Run &) -> int { return throwing(); },
            [&](int result) { isDone = result == 0; });
        QTRY_VERIFY(isDone);
    }

    void whatALoopThrowsGoesToItsCaller()
    {
        app::SideBySide loop;
        std::atomic<int> done = 0;
        bool isCaught = false;
        try {
            loop.run(50, [&](int i) {
                ++done;
                if (i == 20)
                    throwing();
            });
        } catch (const std::runtime_error &) {
            isCaught = true;
        }
        QVERIFY(isCaught);
        QCOMPARE(done.load(), 50);
    }

    void whatAnEventThrowsIsTold()
    {
        QSignalSpy failed(qobject_cast<app::Application *>(qApp), &app::Application::failed);
        QTimer::singleShot(0, this, [] { throwing(); });
        QTRY_COMPARE(failed.size(), 1);
        QCOMPARE(failed.at(0).at(0).value<Error>().kind, ErrorKind::Internal);
    }
};

BUTTONHOLE_TEST(TstJobs)

#include "tst_jobs.moc"

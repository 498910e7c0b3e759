#include "registry.h"
#include "sample_files.h"
#include "samples.h"

#include <QDir>
#include <QFile>
#include <QProcess>
#include <QTemporaryDir>

#include <cerrno>

using namespace buttonhole;

/// A disk on which one call fails, every call in turn: what stood there is whole, or the new file
/// is, and the command says which.
class TstFaults : public QObject
{
    Q_OBJECT
    QTemporaryDir m_home; ///< of what the commands read and write
    QTemporaryDir m_notes;

    QString at(const QString &name) const { return m_home.filePath(name); }

    struct Answer {
        int code = -1;
        QByteArray messages;
        int calls = 0; ///< that could have failed
    };

    /// @param failing which call of that sort fails; 0: none
    Answer run(const QStringList &arguments, const char *sort, int failing) const
    {
        const QString count = m_notes.filePath(QStringLiteral("count"));
        QFile::remove(count);
        QProcessEnvironment all = QProcessEnvironment::systemEnvironment();
        all.insert(QStringLiteral("LD_PRELOAD"), QStringLiteral(BUTTONHOLE_FAILING_DISK));
        all.insert(QStringLiteral("FAILING_DISK_BELOW"), m_home.path());
        all.insert(QStringLiteral("FAILING_DISK_CALL"), QLatin1String(sort));
        all.insert(QStringLiteral("FAILING_DISK_AT"), QString::number(failing));
        all.insert(QStringLiteral("FAILING_DISK_ERROR"),
                   QString::number(QByteArray(sort) == "write" ? ENOSPC : EIO));
        all.insert(QStringLiteral("FAILING_DISK_COUNT"), count);
        QProcess process;
        process.setProcessEnvironment(all);
        process.start(QStringLiteral(BUTTONHOLE_CLI), arguments);
        const bool isOver = process.waitForFinished(60000);
        Answer out;
        out.code = isOver && process.exitStatus() == QProcess::NormalExit ? process.exitCode() : -1;
        out.messages = process.readAllStandardError();
        QFile counted(count);
        if (counted.open(QIODevice::ReadOnly))
            out.calls = counted.readAll().toInt();
        return out;
    }

    /// Everything in the folder, by name.
    std::map<QString, std::vector<uint8_t>> all() const
    {
        std::map<QString, std::vector<uint8_t>> out;
        for (const QString &name : QDir(m_home.path()).entryList(QDir::Files | QDir::Hidden))
            out[name] = test::bytesOf(at(name));
        return out;
    }
    void restore(const std::map<QString, std::vector<uint8_t>> &files) const
    {
        for (const auto &[name, bytes] : all())
            QFile::remove(at(name));
        for (const auto &[name, bytes] : files)
            test::writeFile(at(name), bytes.data(), bytes.size());
    }

private Q_SLOTS:
    void init()
    {
        restore({});
        test::writeByLibrary(at(QStringLiteral("loom.png")), test::makePicture<uint16_t>(160, 120),
                             test::Type::U8);
        test::writeByLibrary(at(QStringLiteral("wool.png")), test::makePicture<uint16_t>(120, 90),
                             test::Type::U8);
        const std::string take = R"({"format": "buttonhole-take", "keeps": [{"steps": [{
            "kind": "brush", "strokes": [{"points": [[60, 40]]}]}]}]})";
        test::writeFile(at(QStringLiteral("take.json")), take.data(), take.size());
    }

    void oldOrNewNeverHalf_data()
    {
        QTest::addColumn<QStringList>("arguments");
        QTest::addColumn<QStringList>("written"); ///< what the command is to write
        const auto name = [this](const char *file) { return at(QLatin1String(file)); };
        const QStringList apply{"apply", name("loom.png"), "--take", name("take.json")};
        QTest::newRow("save") << apply + QStringList{"--save", name("w.buttonhole")}
                              << QStringList{"w.buttonhole"};
        for (const char *ending : {"jpg", "png", "tiff", "webp", "avif"}) {
            const QString out = QStringLiteral("out.") + QLatin1String(ending);
            QTest::newRow(ending) << apply + QStringList{"-o", at(out)} << QStringList{out};
        }
        QTest::newRow("pdf") << QStringList{"print", name("loom.png"), "-o", name("out.pdf")}
                             << QStringList{"out.pdf"};
        QTest::newRow("mask") << QStringList{"mask", name("w.buttonhole"), "--keep", "Keep 1",
                                             "-o",   name("m.png")}
                              << QStringList{"m.png"};
        QTest::newRow("batch") << QStringList{"batch",       name("loom.png"), name("wool.png"),
                                              "--out",       m_home.path(),    "--name",
                                              "{name}-done", "--if-there",     "replace"}
                               << QStringList{"loom-done.jpg", "wool-done.jpg"};
    }
    void oldOrNewNeverHalf()
    {
        QFETCH(QStringList, arguments);
        QFETCH(QStringList, written);
        if (arguments.at(0) == QStringLiteral("mask")) {
            const Answer saved =
                run({"apply", at(QStringLiteral("loom.png")), "--take",
                     at(QStringLiteral("take.json")), "--save", at(QStringLiteral("w.buttonhole"))},
                    "none", 0);
            QCOMPARE(saved.code, 0);
        }
        // What is replaced was written by the command itself, so that it may be.
        QVERIFY2(run(arguments, "none", 0).code == 0, run(arguments, "none", 0).messages);
        auto before = all();
        std::map<QString, std::vector<uint8_t>> whole;
        for (const QString &name : written) {
            QVERIFY2(before.count(name), qPrintable(name));
            whole[name] = before[name];
            before[name].push_back(0); // told from the new one
        }
        int failures = 0;
        for (const char *sort : {"write", "read", "rename", "sync"}) {
            restore(before);
            const int calls = run(arguments, sort, 0).calls;
            for (int n = 1; n <= calls; ++n) {
                restore(before);
                const Answer answer = run(arguments, sort, n);
                const std::string place = std::string(sort) + " " + std::to_string(n) + " of " +
                                          std::to_string(calls) + ": " +
                                          answer.messages.toStdString();
                QVERIFY2(answer.code >= 0, place.c_str());
                bool isAllNew = true;
                auto now = all();
                for (const QString &name : written) {
                    const bool isNew = isSame(name, now[name], whole[name]);
                    isAllNew = isAllNew && isNew;
                    QVERIFY2(isNew || now[name] == before[name], place.c_str());
                }
                QVERIFY2(answer.code != 0 || isAllNew, place.c_str());
                if (answer.code != 0) {
                    ++failures;
                    QVERIFY2(answer.messages.contains(m_home.path().toUtf8()), place.c_str());
                }
                for (const auto &[name, bytes] : now) // nothing half is left, nothing else changed
                    if (!written.contains(name) && !name.endsWith(QStringLiteral(".jsonl")))
                        QVERIFY2(before.count(name) && before[name] == bytes,
                                 (place + name.toStdString()).c_str());
            }
        }
        QVERIFY(failures > 2);
        qInfo("%d failures", failures);
    }

private:
    /// Works, PDFs and TIFFs say when they were made; the others are the same bytes again.
    static bool isSame(const QString &name, const std::vector<uint8_t> &now,
                       const std::vector<uint8_t> &whole)
    {
        const QString ending = name.section(u'.', -1);
        if (ending == QStringLiteral("buttonhole") || ending == QStringLiteral("pdf") ||
            ending == QStringLiteral("tiff"))
            return now.size() == whole.size();
        return now == whole;
    }
};

BUTTONHOLE_TEST(TstFaults)

#include "tst_faults.moc"

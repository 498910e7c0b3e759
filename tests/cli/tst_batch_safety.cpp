#include "document/container.h"
#include "document/finish_starts.h"
#include "document/preset_store.h"
#include "document/set_param.h"
#include "export/export.h"
#include "io/photo.h"
#include "io/picture_end.h"
#include "job/batch.h"
#include "job/opened.h"
#include "job/photo_job.h"
#include "mask/fade_step.h"
#include "registry.h"
#include "sample_files.h"
#include "samples.h"

#include <nlohmann/json.hpp>

#include <QDir>
#include <QFile>
#include <QProcess>
#include <QScopeGuard>
#include <QTemporaryDir>

#include <sys/mount.h>
#include <unistd.h>

using namespace buttonhole;
using nlohmann::json;
using State = BatchResult::State;

/// Deliveries write to nothing that is read, to nothing of somebody else's, and to no place but
/// their folder; what they call done is whole.
class TstBatchSafety : public QObject
{
    Q_OBJECT
    std::unique_ptr<QTemporaryDir> m_folder;

    QString at(const QString &name) const { return m_folder->filePath(name); }
    std::string path(const char *name) const { return at(QLatin1String(name)).toStdString(); }
    void writePhoto(const char *name, int width = 120, int height = 80) const
    {
        test::writeByLibrary(at(QLatin1String(name)), test::makePicture<uint16_t>(width, height),
                             test::Type::U8);
    }
    QByteArray bytesOf(const char *name) const
    {
        QFile file(at(QLatin1String(name)));
        return file.open(QIODevice::ReadOnly) ? file.readAll() : QByteArray();
    }
    void writeBytes(const char *name, const QByteArray &bytes) const
    {
        QFile file(at(QLatin1String(name)));
        QVERIFY(file.open(QIODevice::WriteOnly) && file.write(bytes) == bytes.size());
    }
    BatchOrder order(std::vector<std::string> inputs) const
    {
        BatchOrder made;
        made.inputs = std::move(inputs);
        made.delivery.where = Delivery::Where::Folder;
        made.delivery.folder = path("out");
        made.delivery.picture.format = PictureFormat::Png;
        return made;
    }
    static BatchReport run(const BatchOrder &order)
    {
        auto report = runBatch(order);
        if (!report) {
            qWarning("%s", sentence(report.error()).c_str());
            return {};
        }
        return std::move(*report);
    }
    /// A work with a keep beside a photo.
    void saveWork(const char *photo, const char *work) const
    {
        const auto opened = openPath(path(photo), {}, {}, needsAllLevels);
        QVERIFY(opened);
        Take take = makeTake();
        take.keeps[0].invert = true;
        std::vector<std::string> notes;
        QVERIFY(saveAs(path(work), *opened, take, *opened->levels, notes, {}));
    }

private Q_SLOTS:
    void init()
    {
        m_folder = std::make_unique<QTemporaryDir>();
        QVERIFY(QDir().mkpath(at("in")) && QDir().mkpath(at("out")));
        writePhoto("in/spool.png");
    }

    void masksOverwriteNothing()
    {
        saveWork("in/spool.png", "in/spool.buttonhole");
        writeBytes("out/spool-keep-Keep 1.png", "a list of threads");
        BatchOrder made = order({path("in/spool.buttonhole")});
        made.delivery.masks = true;
        for (const auto ifThere : {Delivery::IfThere::Number, Delivery::IfThere::Replace}) {
            made.delivery.ifThere = ifThere;
            const BatchReport report = run(made);
            QCOMPARE(report.count(State::Done), size_t(1));
            QCOMPARE(report.results[0].delivered.masks.size(), size_t(1));
            if (ifThere == Delivery::IfThere::Number)
                QCOMPARE(bytesOf("out/spool-keep-Keep 1.png"), QByteArray("a list of threads"));
        }
        // Nor an input, whatever is to be replaced.
        QVERIFY(QFile::copy(at("in/spool.png"), at("out/spool-keep-Keep 1-in.png")));
        QVERIFY(QFile::remove(at("out/spool-keep-Keep 1.png")));
        QVERIFY(QFile::rename(at("out/spool-keep-Keep 1-in.png"), at("out/spool-keep-Keep 1.png")));
        const QByteArray before = bytesOf("out/spool-keep-Keep 1.png");
        made.inputs.push_back(path("out/spool-keep-Keep 1.png"));
        run(made);
        QCOMPARE(bytesOf("out/spool-keep-Keep 1.png"), before);
    }

    void nothingIsWrittenOverAnInput()
    {
        writePhoto("in/other.png", 60, 40);
        QVERIFY(QFile::link(at("in/spool.png"), at("out/other-keep.png")));
        BatchOrder made = order({path("in/other.png"), path("in/spool.png")});
        made.delivery.ifThere = Delivery::IfThere::Replace;
        const QByteArray before = bytesOf("in/spool.png");
        const BatchReport report = run(made);
        QCOMPARE(report.count(State::Failed), size_t(1));
        QCOMPARE(report.count(State::Done), size_t(1));
        QCOMPARE(bytesOf("in/spool.png"), before);
        // By a pattern, into their own folder.
        made.delivery.folder = path("in");
        made.delivery.name = "spool";
        run(made);
        QCOMPARE(bytesOf("in/spool.png"), before);
    }

    void aManifestLeadsNowhereElse()
    {
        BatchOrder made = order({path("in")});
        QCOMPARE(run(made).count(State::Done), size_t(1));
        const char *manifest = "out/buttonhole-batch.jsonl";
        QByteArray text = bytesOf(manifest);
        text.replace((path("out/spool-keep.png")).c_str(), (path("in/spool.png")).c_str());
        writeBytes(manifest, text);
        const QByteArray before = bytesOf("in/spool.png");
        made.resumes = true;
        run(made);
        QCOMPARE(bytesOf("in/spool.png"), before);
        QCOMPARE(QDir(at("in")).entryList(QDir::Files).size(), 1);
        // A link is not followed.
        writeBytes("list.txt", "threads");
        QVERIFY(QFile::remove(at(QLatin1String(manifest))));
        QVERIFY(QFile::link(at("list.txt"), at(QLatin1String(manifest))));
        const auto refused = runBatch(made);
        QVERIFY(!refused);
        QVERIFY(sentence(refused.error()).find("link") != std::string::npos);
        QCOMPARE(bytesOf("list.txt"), QByteArray("threads"));
    }

    void whatSomebodyElsePutThereStays()
    {
        writePhoto("in/thread.png", 50, 50);
        std::stop_source stop;
        Run stopped;
        stopped.stop = stop.get_token();
        BatchFollower follower;
        follower.finished = [&](size_t, const BatchResult &) { stop.request_stop(); };
        BatchOrder made = order({path("in")});
        QVERIFY(runBatch(made, follower, stopped));
        writeBytes("out/thread-keep.png", "mine");
        made.resumes = true;
        const BatchReport report = run(made);
        QCOMPARE(report.count(State::Before), size_t(1));
        QCOMPARE(report.count(State::Done), size_t(1));
        QCOMPARE(bytesOf("out/thread-keep.png"), QByteArray("mine"));
        QVERIFY(loadPhoto(path("out/thread-keep-2.png")));
    }

    void oneDeliveryAtATimeWritesToAFolder()
    {
        const auto lock = FolderLock::take(path("out"));
        QVERIFY(lock);
        const auto refused = runBatch(order({path("in")}));
        QVERIFY(!refused);
        QCOMPARE(int(refused.error().kind), int(ErrorKind::Conflict));
        QVERIFY(QDir(at("out")).isEmpty());
    }

    void anOutputIsNoInputOfItsOwnFolder()
    {
        BatchOrder made = order({path("in")});
        made.delivery.folder = path("in");
        QCOMPARE(run(made).count(State::Done), size_t(1));
        made.resumes = true;
        const BatchReport again = run(made);
        QCOMPARE(again.count(State::Before), size_t(1));
        QCOMPARE(again.results.size(), size_t(1));
    }

    void whatChangedOrWasCutOffIsMadeAgain()
    {
        BatchOrder made = order({path("in")});
        run(made);
        made.resumes = true;
        const QByteArray whole = bytesOf("out/spool-keep.png");
        // Of the same length, without its end.
        QByteArray torn = whole;
        torn.replace(torn.size() - 8, 8, QByteArray(8, '\0'));
        writeBytes("out/spool-keep.png", torn);
        QCOMPARE(run(made).count(State::Done), size_t(1));
        QCOMPARE(bytesOf("out/spool-keep.png"), whole);
        writePhoto("in/spool.png", 140, 80);
        QCOMPARE(run(made).count(State::Done), size_t(1));
        QCOMPARE(loadPhoto(path("out/spool-keep.png"))->width, 140);
        QCOMPARE(run(made).count(State::Before), size_t(1));
    }

    void namesThatAreNoTextAreKnownAgain()
    {
        const std::string odd = path("in/") + "sp\xFFool.png";
        QVERIFY(::rename(path("in/spool.png").c_str(), odd.c_str()) == 0);
        BatchOrder made = order({path("in")});
        QCOMPARE(run(made).count(State::Done), size_t(1));
        made.resumes = true;
        QCOMPARE(run(made).count(State::Before), size_t(1));
    }

    void oneBadNameDoesNotEndTheOthers()
    {
        BatchOrder made = order({path("in"), path("in/") + std::string(300, 'a') + ".png"});
        made.delivery.name = "{name}" + std::string(190, 'b');
        writePhoto((std::string("in/") + std::string(100, 'c') + ".png").c_str());
        const BatchReport report = run(made);
        QCOMPARE(report.results.size(), size_t(3));
        QCOMPARE(report.count(State::Done), size_t(1));
        QCOMPARE(report.count(State::Failed), size_t(2));
    }

    void aWorkIsOfOneOfTwoPhotosOfOneName()
    {
        test::writeJpeg(at("in/spool.jpg"), test::makePicture<uint8_t>(90, 60), 90);
        saveWork("in/spool.png", "in/spool.buttonhole");
        QCOMPARE(toOpen(path("in/spool.png")), path("in/spool.buttonhole"));
        QCOMPARE(toOpen(path("in/spool.jpg")), path("in/spool.jpg"));
        QCOMPARE(workBeside(path("in/spool.jpg")), path("in/spool.jpg.buttonhole"));
        const BatchReport report = run(order({path("in")}));
        QCOMPARE(report.count(State::Done), size_t(2));
        QSet<int> widths;
        for (const BatchResult &each : report.results)
            widths += each.delivered.width;
        QCOMPARE(widths, (QSet<int>{120, 90}));
        saveWork("in/spool.jpg", "in/spool.jpg.buttonhole");
        QCOMPARE(jobOfFolder(path("in"))->photos.size(), size_t(2));
    }

    void theFormatIsTheOneAskedFor_data()
    {
        QTest::addColumn<QString>("ending");
        for (const auto &[word, ending] :
             {std::pair("jpeg", "jpg"), std::pair("png", "png"), std::pair("tiff", "tif"),
              std::pair("webp", "webp"), std::pair("avif", "avif"), std::pair("openraster", "ora")})
            QTest::newRow(word) << QString::fromLatin1(ending);
    }
    void theFormatIsTheOneAskedFor()
    {
        QFETCH(QString, ending);
        QProcess cli;
        cli.start(QStringLiteral(BUTTONHOLE_CLI),
                  {"batch", at("in"), "--out", at("out"), "--format",
                   QString::fromLatin1(QTest::currentDataTag())});
        QVERIFY(cli.waitForFinished(60000));
        QCOMPARE(cli.exitCode(), 0);
        QVERIFY(QFile::exists(at("out/spool-keep.") + ending));
        QVERIFY(checkPictureEnd((at("out/spool-keep.") + ending).toStdString()));
    }

    void aFullDiskIsToldInEveryFormat_data()
    {
        QTest::addColumn<QString>("ending");
        for (const char *ending : {"jpg", "png", "tif", "webp", "avif", "ora", "pdf"})
            QTest::newRow(ending) << QString::fromLatin1(ending);
    }
    /// Of every size of disk, down by pages: the picture is whole, or not there and told.
    void aFullDiskIsToldInEveryFormat()
    {
        QFETCH(QString, ending);
        test::writeJpeg(at("in/wool.jpg"), test::makePicture<uint8_t>(360, 240), 95);
        if (QProcess::execute(QStringLiteral("exiftool"),
                              {"-q", "-overwrite_original", "-Artist=Fernhollow Mill",
                               "-XMP:Description=" + QString(2000, u'w'), at("in/wool.jpg")}) != 0)
            QFAIL("exiftool is missing");
        const QString out = at("out/wool.") + ending;
        const QStringList arguments{ending == "pdf" ? "print" : "render", at("in/wool.jpg"), "-o",
                                    out};
        QCOMPARE(QProcess::execute(QStringLiteral(BUTTONHOLE_CLI), arguments), 0);
        QVERIFY(checkPictureEnd(out.toStdString()));
        const QByteArray whole = bytesOf(("out/wool." + ending).toLatin1().constData());
        const QByteArray folder = at("out").toLocal8Bit();
        const int pages = int((whole.size() + 4095) / 4096);
        int refused = 0;
        for (int have = pages + 1; have >= std::max(1, pages - 4); --have) {
            const QByteArray size = "size=" + QByteArray::number(have * 4096);
            if (::mount("tmpfs", folder.constData(), "tmpfs", 0, size.constData()) != 0)
                QSKIP("known: mounting a file system needs root");
            const auto unmount = qScopeGuard([&] { ::umount2(folder.constData(), MNT_DETACH); });
            const int code = QProcess::execute(QStringLiteral(BUTTONHOLE_CLI), arguments);
            const QStringList left =
                QDir(at("out")).entryList(QDir::Files | QDir::Hidden | QDir::System);
            if (code == 0) {
                QVERIFY(checkPictureEnd(out.toStdString()));
                QVERIFY2(QFile(out).size() == whole.size(), size.constData());
            } else {
                QCOMPARE(code, 5);
                QCOMPARE(left, QStringList());
                ++refused;
            }
        }
        QVERIFY(refused >= 3);
    }

    /// On a texture whose mean is light on coarse levels and dark by its pixels the ink of a
    /// signature tells where somebody looked.
    void signaturesHaveTheInkOfTheWindow()
    {
        Image<uint16_t> checks(1200, 900, 3);
        for (int y = 0; y < checks.height(); ++y)
            for (int x = 0; x < checks.width(); ++x)
                std::fill_n(checks.pixel(x, y), 3, uint16_t((x + y) % 2 == 0 ? 0 : 65535));
        test::writeByLibrary(at(QStringLiteral("checks.png")), checks, test::Type::U8);
        const auto opened = openPath(path("checks.png"), {}, {}, needsAllLevels);
        QVERIFY(opened);
        Take take = withSignature(makeTake(), {"Fernhollow Mill", {}, {}});
        take = *withParam(std::move(take), "finish.signature.size=0.2");
        std::vector<std::string> notes;
        QVERIFY(saveAs(path("checks.buttonhole"), *opened, take, *opened->levels, notes, {}));
        const BatchOrder asked = order({path("checks.buttonhole")});
        QCOMPARE(run(asked).count(State::Done), size_t(1));
        QVERIFY(exportPicture(*opened->levels, take, asked.delivery.picture, path("window.png")));
        const QStringList made =
            QDir(at(QStringLiteral("out"))).entryList({QStringLiteral("*.png")});
        QCOMPARE(made.size(), 1);
        QCOMPARE(test::bytesOf(at(QStringLiteral("out/") + made.front())),
                 test::bytesOf(at(QStringLiteral("window.png"))));
    }
};

BUTTONHOLE_TEST(TstBatchSafety)
#include "tst_batch_safety.moc"

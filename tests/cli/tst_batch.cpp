#include "document/finish_starts.h"
#include "document/preset_store.h"
#include "io/photo.h"
#include "job/batch.h"
#include "job/photo_job.h"
#include "registry.h"
#include "sample_files.h"
#include "samples.h"

#include <nlohmann/json.hpp>

#include <QDir>
#include <QFile>
#include <QProcess>
#include <QTemporaryDir>

#include <sys/mount.h>
#include <unistd.h>

using namespace buttonhole;
using State = BatchResult::State;

/// Many photos delivered: what is written, what fails, what is gone on with.
class TstBatch : public QObject
{
    Q_OBJECT
    std::unique_ptr<QTemporaryDir> m_folder;

    QString at(const QString &name) const { return m_folder->filePath(name); }
    void writePhoto(const QString &name, int width = 120, int height = 80) const
    {
        test::writeByLibrary(at(name), test::makePicture<uint16_t>(width, height), test::Type::U8);
    }
    void writeBroken(const QString &name) const
    {
        QFile file(at(name));
        QVERIFY(file.open(QIODevice::WriteOnly) && file.write("\xFF\xD8\xFF nothing more") > 0);
    }
    BatchOrder order(const QString &out) const
    {
        BatchOrder made;
        made.inputs = {at("in").toStdString()};
        made.presets = {presetOf(*withFinishStart(makeTake(), "grain"), {"grain"}, "Grain", 0, 0)};
        made.delivery.where = Delivery::Where::Folder;
        made.delivery.folder = at(out).toStdString();
        made.delivery.picture.format = ExportSettings::Format::Png;
        return made;
    }
    /// Of every file in a folder but the manifest.
    QMap<QString, QByteArray> filesOf(const QString &folder) const
    {
        QMap<QString, QByteArray> out;
        for (const QString &name : QDir(at(folder)).entryList(QDir::Files)) {
            QFile file(at(folder + QLatin1Char('/') + name));
            if (name != QLatin1String(kManifestName) && file.open(QIODevice::ReadOnly))
                out[name] = file.readAll();
        }
        return out;
    }
    static BatchReport run(const BatchOrder &order, const BatchFollower &follower = {},
                           const Run &run = {})
    {
        auto report = runBatch(order, follower, run);
        if (!report) {
            qWarning("%s", sentence(report.error()).c_str());
            return {};
        }
        return std::move(*report);
    }

private Q_SLOTS:
    void init()
    {
        m_folder = std::make_unique<QTemporaryDir>();
        QVERIFY(QDir().mkpath(at("in")));
        for (int i = 1; i <= 6; ++i)
            writePhoto(QStringLiteral("in/spool-%1.png").arg(i), 100 + 10 * i);
    }

    void oneThatFailsDoesNotStopTheOthers()
    {
        for (const char *name : {"in/a.jpg", "in/m.png", "in/z.tif"})
            writeBroken(QLatin1String(name));
        BatchOrder made = order("out");
        made.inputs.push_back(at("nowhere").toStdString());
        made.workers = 3;
        const BatchReport report = run(made);
        QCOMPARE(report.count(State::Done), size_t(6));
        QCOMPARE(report.count(State::Failed), size_t(4));
        QCOMPARE(filesOf("out").size(), 6);
        const auto json = nlohmann::json::parse(report.toJson());
        QCOMPARE(json.at("failed").get<int>(), 4);
        QCOMPARE(json.at("photos").size(), size_t(10));
        const auto &first = json.at("photos").at(0);
        QVERIFY(first.at("error").at("message").get<std::string>().find("a.jpg") !=
                std::string::npos);
    }

    void aJobIsAnInputByItsFile()
    {
        PhotoJob job;
        job.photos = {{at("in/spool-2.png").toStdString(), false, false},
                      {at("in/spool-5.png").toStdString(), false, false}};
        QVERIFY(saveJob(job, at("in/two.buttonhole-job").toStdString()));
        QVERIFY(QDir().rename(at("in"), at("moved")));
        BatchOrder made = order("out");
        made.inputs = {at("moved/two.buttonhole-job").toStdString()};
        QCOMPARE(run(made).count(State::Done), size_t(2));
        QCOMPARE(filesOf("out").keys(), QStringList({QStringLiteral("spool-2-keep.png"),
                                                     QStringLiteral("spool-5-keep.png")}));
        // One that is torn says so.
        QFile torn(at("moved/torn.buttonhole-job"));
        QVERIFY(torn.open(QIODevice::WriteOnly) && torn.write("{\"format\": \"butt") > 0);
        torn.close();
        made.inputs = {torn.fileName().toStdString()};
        made.delivery.folder = at("none").toStdString();
        const BatchReport report = run(made);
        QCOMPARE(report.count(State::Failed), size_t(1));
        QVERIFY(sentence(report.results[0].error).find("torn.buttonhole-job") != std::string::npos);
    }

    void anExportPresetSaysHowTheyLeave()
    {
        Delivery delivery;
        delivery.picture.format = PictureFormat::Tiff;
        delivery.size = {SizeRule::Kind::Percent, 50, 0, 0};
        delivery.name = "{number}-{name}";
        Preset preset = plainPreset({}, "Half");
        preset.exportJson = deliveryToJson(delivery);
        const std::string text = presetToText(preset);
        QFile file(at("half.json"));
        QVERIFY(file.open(QIODevice::WriteOnly) && file.write(text.c_str()) > 0);
        file.close();
        QProcess cli;
        cli.start(QStringLiteral(BUTTONHOLE_CLI),
                  {QStringLiteral("batch"), at("in"), QStringLiteral("--export-preset"),
                   file.fileName(), QStringLiteral("--out"), at("out"), QStringLiteral("--quality"),
                   QStringLiteral("80")});
        QVERIFY(cli.waitForFinished(60000));
        QCOMPARE(cli.exitCode(), 0);
        const auto photo = loadPhoto(at("out/1-spool-1.tif").toStdString());
        QVERIFY(photo);
        QCOMPARE(photo->width, 55); // of 110
        // Layers by the command line, too.
        cli.start(QStringLiteral(BUTTONHOLE_CLI), {QStringLiteral("render"), at("in/spool-1.png"),
                                                   QStringLiteral("-o"), at("layers.ora")});
        QVERIFY(cli.waitForFinished(60000));
        QCOMPARE(cli.exitCode(), 0);
        QVERIFY(QFile(at("layers.ora")).size() > 1000);
        // And pages.
        cli.start(QStringLiteral(BUTTONHOLE_CLI),
                  {QStringLiteral("print"), at("in/spool-1.png"), at("in/spool-2.png"),
                   QStringLiteral("-o"), at("pages.pdf"), QStringLiteral("--grid"),
                   QStringLiteral("1"), QStringLiteral("2"), QStringLiteral("--paper"),
                   QStringLiteral("A5")});
        QVERIFY(cli.waitForFinished(60000));
        QCOMPARE(cli.exitCode(), 0);
        QVERIFY(QFile(at("pages.pdf")).size() > 1000);
        QVERIFY(cli.readAllStandardError().contains("dpi")); // so few pixels
        cli.start(QStringLiteral(BUTTONHOLE_CLI),
                  {QStringLiteral("print"), at("in/spool-1.png"), QStringLiteral("-o"),
                   at("no.pdf"), QStringLiteral("--paper"), QStringLiteral("Tapestry")});
        QVERIFY(cli.waitForFinished(60000));
        QCOMPARE(cli.exitCode(), 3);
    }

    void aFullDiskLeavesWhatFittedAndIsGoneOnWith()
    {
        // From JPEGs PNGs are made, of which four have room.
        QDir(at("in")).removeRecursively();
        QVERIFY(QDir().mkpath(at("in")) && QDir().mkpath(at("out")));
        for (int i = 1; i <= 6; ++i)
            test::writeJpeg(at(QStringLiteral("in/spool-%1.jpg").arg(i)),
                            test::makePicture<uint8_t>(240, 160), 60);
        run(order("whole"));
        const QMap<QString, QByteArray> whole = filesOf("whole");
        const QByteArray small("size=" +
                               QByteArray::number(qlonglong(whole.first().size() * 9 / 2)));
        const QByteArray folder = at("out").toLocal8Bit();
        const auto mountOf = [&](const char *size, unsigned long flags) {
            return ::mount("tmpfs", folder.constData(), "tmpfs", flags, size) == 0;
        };
        if (!mountOf(small.constData(), 0))
            QSKIP("known: mounting a file system needs root");
        const auto unmount = qScopeGuard([&] { ::umount2(folder.constData(), MNT_DETACH); });
        const BatchReport report = run(order("out"));
        QVERIFY(report.count(State::Done) >= 1 && report.count(State::Failed) >= 1);
        QCOMPARE(report.count(State::Done) + report.count(State::Failed), size_t(6));
        for (const BatchResult &each : report.results)
            if (each.state == State::Failed)
                QCOMPARE(int(each.error.kind), int(ErrorKind::DiskFull));
        QCOMPARE(size_t(filesOf("out").size()), report.count(State::Done)); // none is half-written
        QVERIFY(mountOf("size=4m", MS_REMOUNT));
        BatchOrder again = order("out");
        again.resumes = true;
        QCOMPARE(run(again).count(State::Done), report.count(State::Failed));
        QCOMPARE(filesOf("out"), whole);
    }

    void unreadableFoldersAreReported()
    {
        if (::geteuid() == 0)
            QSKIP("known: the super user reads everything");
        QVERIFY(QDir().mkpath(at("shut")));
        QFile::setPermissions(at("shut"), QFileDevice::Permissions());
        BatchOrder made = order("out");
        made.inputs.push_back(at("shut").toStdString());
        const BatchReport report = run(made);
        QFile::setPermissions(at("shut"), QFileDevice::ReadOwner | QFileDevice::WriteOwner |
                                              QFileDevice::ExeOwner);
        QCOMPARE(report.count(State::Done), size_t(6));
        QCOMPARE(report.count(State::Failed), size_t(1));
    }

    void resumesWhatWasStopped()
    {
        run(order("whole"));
        const auto whole = filesOf("whole");
        QCOMPARE(whole.size(), 6);

        // Stopped after two, as by Ctrl+C.
        std::stop_source stop;
        Run stopped;
        stopped.stop = stop.get_token();
        size_t finished = 0;
        BatchFollower follower;
        follower.finished = [&](size_t, const BatchResult &) {
            if (++finished == 2)
                stop.request_stop();
        };
        QCOMPARE(run(order("out"), follower, stopped).count(State::Done), size_t(2));
        // The last line was cut off, as by a fall of the machine: its photo is made again.
        QFile manifest(at(QStringLiteral("out/") + QLatin1String(kManifestName)));
        QVERIFY(manifest.resize(manifest.size() - 20));

        BatchOrder again = order("out");
        again.resumes = true;
        const BatchReport report = run(again);
        QCOMPARE(report.count(State::Before), size_t(1));
        QCOMPARE(report.count(State::Done), size_t(5));
        QCOMPARE(filesOf("out"), whole);

        // What has gone is made again; what is new is added.
        QFile::remove(at("out/spool-3-keep.png"));
        writePhoto("in/thread.png");
        const BatchReport third = run(again);
        QCOMPARE(third.count(State::Before), size_t(5));
        QCOMPARE(third.count(State::Done), size_t(2));
        QCOMPARE(filesOf("out").size(), 7);

        again.delivery.picture.longEdgePx = 0;
        again.delivery.size = {SizeRule::Kind::LongEdge, 50, 0, 0};
        const auto other = runBatch(again);
        QVERIFY(!other);
        QCOMPARE(int(other.error().kind), int(ErrorKind::InvalidArgument));
    }

    void namesAreNumberedSkippedOrReplaced()
    {
        BatchOrder made = order("out");
        made.delivery.name = "{number}-{name}";
        run(made);
        QVERIFY(filesOf("out").contains("1-spool-1.png"));
        made.delivery.name = "same";
        run(made);
        QVERIFY(filesOf("out").contains("same.png") && filesOf("out").contains("same-6.png"));
        run(made);
        QVERIFY(filesOf("out").contains("same-12.png"));
        made.delivery.ifThere = Delivery::IfThere::Skip;
        made.inputs = {at("in/spool-1.png").toStdString()};
        QCOMPARE(run(made).count(State::Skipped), size_t(1));
        made.delivery.ifThere = Delivery::IfThere::Replace;
        const int before = filesOf("out").size();
        QCOMPARE(run(made).count(State::Done), size_t(1));
        QCOMPARE(filesOf("out").size(), before);
    }

    void killedAndResumedGivesTheSameFiles()
    {
        for (int i = 7; i <= 30; ++i)
            writePhoto(QStringLiteral("in/spool-%1.png").arg(i), 900, 700);
        const auto arguments = [&](const char *out, bool resumes) {
            QStringList all{"batch",    at("in"), "--out",    at(QLatin1String(out)),
                            "--format", "jpeg",   "--preset", "Coarse grain",
                            "--jobs",   "1"};
            if (resumes)
                all += "--resume";
            return all;
        };
        QProcess whole;
        whole.start(QStringLiteral(BUTTONHOLE_CLI), arguments("whole", false));
        QVERIFY(whole.waitForFinished(120000));
        QCOMPARE(whole.exitCode(), 0);
        QProcess killed;
        killed.start(QStringLiteral(BUTTONHOLE_CLI), arguments("out", false));
        QTRY_VERIFY_WITH_TIMEOUT(filesOf("out").size() >= 3, 60000);
        killed.kill();
        QVERIFY(killed.waitForFinished());
        QVERIFY(filesOf("out").size() < 30);
        QProcess resumed;
        resumed.start(QStringLiteral(BUTTONHOLE_CLI), arguments("out", true));
        QVERIFY(resumed.waitForFinished(120000));
        QCOMPARE(resumed.exitCode(), 0);
        QCOMPARE(filesOf("out"), filesOf("whole"));
        const auto json = nlohmann::json::parse(resumed.readAllStandardOutput().toStdString());
        QVERIFY(json.at("before").get<int>() >= 1);
        QCOMPARE(json.at("before").get<int>() + json.at("done").get<int>(), 30);
    }

    void deliveriesAreWrittenAndRead()
    {
        Delivery delivery;
        delivery.picture.format = ExportSettings::Format::WebP;
        delivery.picture.carried = Metadata::Carried::Credits;
        delivery.picture.copyright = "Fernhollow Mill";
        delivery.picture.signs = false;
        delivery.size = {SizeRule::Kind::Within, 0, 800, 600};
        delivery.where = Delivery::Where::Subfolder;
        delivery.folder = "web";
        delivery.ifThere = Delivery::IfThere::Skip;
        delivery.masks = true;
        const auto read = deliveryFromJson(deliveryToJson(delivery), "x");
        QVERIFY(read);
        QVERIFY(*read == delivery);
        const auto bad = deliveryFromJson("{\"format\":\"gif\"}", "web.json");
        QVERIFY(!bad);
        QVERIFY(sentence(bad.error()).find("jpeg, png") != std::string::npos);
        QVERIFY(!deliveryFromJson("{\"quality\":0}", "x"));
        QVERIFY(!deliveryFromJson("[]", "x"));
    }

    void namesAndSizesGoByTheirRules()
    {
        const NameFacts facts{"Loom", "Take 1", "2026-06-14", "2026-12-01", 7, 120};
        QCOMPARE(fileNameFor("{name}-{take}-{taken}-{number}", facts),
                 std::string("Loom-Take 1-2026-06-14-007"));
        QCOMPARE(fileNameFor("../{nam}", facts), std::string("-..-{nam}"));
        using Kind = SizeRule::Kind;
        QCOMPARE(longEdgeFor({Kind::Own, 0, 0, 0}, 6000, 4000), 0);
        QCOMPARE(longEdgeFor({Kind::Megapixels, 6, 0, 0}, 6000, 4000), 3000);
        QCOMPARE(longEdgeFor({Kind::Percent, 50, 0, 0}, 6000, 4000), 3000);
        QCOMPARE(longEdgeFor({Kind::Within, 0, 900, 400}, 6000, 4000), 600);
        Delivery delivery;
        QCOMPARE(deliveredPath(delivery, "/a/b/Loom.jpg", facts),
                 std::string("/a/b/Loom-keep.jpg"));
        delivery.where = Delivery::Where::Subfolder;
        delivery.folder = "{date}";
        QCOMPARE(deliveredPath(delivery, "/a/Loom.jpg", facts),
                 std::string("/a/2026-12-01/Loom-keep.jpg"));
    }
};

BUTTONHOLE_TEST(TstBatch)
#include "tst_batch.moc"

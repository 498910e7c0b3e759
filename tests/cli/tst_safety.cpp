#include "document/container.h"
#include "document/zip.h"
#include "io/photo.h"

#include "registry.h"
#include "sample_files.h"
#include "samples.h"

#include <nlohmann/json.hpp>

#include <QDir>
#include <QFile>
#include <QProcess>
#include <QTemporaryDir>

#include <csignal>

#include <sys/stat.h>
#include <unistd.h>

using namespace buttonhole;
using nlohmann::json;

/// Files made to do harm, commands that would lose something, signals, full disks: what the command
/// line must stand.
class TstSafety : public QObject
{
    Q_OBJECT
    std::unique_ptr<QTemporaryDir> m_folder;

    struct Answer {
        int code;
        QByteArray out;
        QByteArray err;
    };

    QString at(const QString &name) const { return m_folder->filePath(name); }
    QString at(const char *name) const { return at(QString::fromUtf8(name)); }

    static Answer run(const QStringList &arguments, const QString &input = {},
                      const QString &output = {})
    {
        QProcess process;
        if (!input.isEmpty())
            process.setStandardInputFile(input);
        if (!output.isEmpty())
            process.setStandardOutputFile(output);
        process.start(QStringLiteral(BUTTONHOLE_CLI), arguments);
        const bool ended = process.waitForFinished(60000);
        process.kill();
        process.waitForFinished();
        const bool isNormal = ended && process.exitStatus() == QProcess::NormalExit;
        return {isNormal ? process.exitCode() : -1, process.readAllStandardOutput(),
                process.readAllStandardError()};
    }
    static json errorOf(const Answer &answer)
    {
        return json::parse(answer.err.begin(), answer.err.end(), nullptr, false);
    }

    QString writeText(const char *name, const std::string &text) const
    {
        test::writeFile(at(name), text.data(), text.size());
        return at(name);
    }
    static std::string takeWith(const std::string &step)
    {
        return R"({"format": "buttonhole-take", "keeps": [{"name": "Loom", "steps": [)" + step +
               "]}]}";
    }
    QString aTake() const
    {
        return writeText("take.json",
                         takeWith(R"({"kind": "brush", "strokes": [{"points": [[60, 40]]}]})"));
    }
    QString photo(const char *name = "loom.png") const
    {
        test::writeByLibrary(at(name), test::makePicture<uint16_t>(160, 120), test::Type::U8);
        return at(name);
    }
    QString work(const char *name = "loom.buttonhole") const
    {
        const Answer saved = run({"apply", photo(), "--take", aTake(), "--save", at(name)});
        return saved.code == 0 ? at(name) : QString();
    }
    /// The work with its manifest changed and entries put in.
    void forge(const QString &file, const std::function<void(json &)> &change,
               const std::map<std::string, std::vector<uint8_t>> &more = {}) const
    {
        const auto zip = ZipReader::open(file.toStdString());
        QVERIFY(zip);
        constexpr uint64_t kMost = 1 << 30;
        ZipWriter out;
        for (const std::string &name : zip->names()) {
            const auto bytes = zip->read(name, kMost).value();
            if (name == "buttonhole.json") {
                json manifest = json::parse(bytes);
                change(manifest);
                out.add(name, manifest.dump());
            } else if (!more.count(name)) {
                out.add(name, bytes, ZipWriter::Compression::Store);
            }
        }
        for (const auto &[name, bytes] : more)
            out.add(name, bytes, ZipWriter::Compression::Deflate);
        QVERIFY(out.writeTo(file.toStdString()));
    }
    QStringList files() const
    {
        return QDir(m_folder->path()).entryList(QDir::Files | QDir::Hidden);
    }

private Q_SLOTS:
    void init() { m_folder = std::make_unique<QTemporaryDir>(); }

    void aForgedWorkReachesNoOtherFile_data()
    {
        QTest::addColumn<QString>("digest");
        QTest::newRow("a folder for a digest") << "%1/home///";
        QTest::newRow("a way up") << "../../../../../../../../%1/home/////";
        QTest::newRow("a false digest") << QString(64, 'a');
    }
    void aForgedWorkReachesNoOtherFile()
    {
        QFETCH(QString, digest);
        const QString file = work();
        QDir().mkpath(at("home"));
        test::writeFile(at("home/.bashrc"), "mine", 4);
        forge(file,
              [&](json &m) {
                  m["photo"]["packed"] = true;
                  m["photo"]["bytes"] = 3;
                  m["photo"]["sha256"] =
                      (digest.contains("%1") ? digest.arg(m_folder->path()) : digest).toStdString();
                  m["photo"]["path"] = "nowhere/.bashrc";
              },
              {{"photo/.bashrc", {'e', 'v', 'l'}}});
        const QStringList before = QDir(QDir::tempPath()).entryList(QDir::AllEntries);
        const Answer answer = run({"--json", "info", file});
        QVERIFY2(answer.code == 3 || answer.code == 4, answer.err.constData());
        QCOMPARE(test::bytesOf(at("home/.bashrc")), (std::vector<uint8_t>{'m', 'i', 'n', 'e'}));
        QCOMPARE(QDir(QDir::tempPath()).entryList(QDir::AllEntries), before); // nothing left behind
    }

    void whatPacksTooWellIsNotUnpacked()
    {
        const QString file = work();
        const size_t size = size_t(300) << 20;
        std::vector<uint8_t> zeros(size);
        Sha256 sum;
        sum.add(zeros.data(), size);
        const std::string digest = sum.hex();
        forge(file,
              [&](json &m) {
                  m["photo"] = {{"packed", true},  {"bytes", size}, {"sha256", digest},
                                {"path", "x.png"}, {"width", 160},  {"height", 120}};
              },
              {{"photo/x.png", std::move(zeros)}});
        const Answer answer = run({"--json", "info", file});
        QCOMPARE(answer.code, 4);
        QVERIFY(answer.err.contains("photo/x.png"));
    }

    void whatUnpacksToTooMuchIsRefused_data()
    {
        QTest::addColumn<QString>("entry");
        QTest::newRow("take") << "takes/1/take.json";
        QTest::newRow("something new") << "loupes/1.bin";
    }
    void whatUnpacksToTooMuchIsRefused()
    {
        QFETCH(QString, entry);
        const QString file = work();
        forge(file, [](json &) {},
              {{entry.toStdString(), std::vector<uint8_t>(size_t(400) << 20, ' ')}});
        const Answer answer = run({"--json", "info", file});
        QCOMPARE(answer.code, 4);
        QVERIFY2(answer.err.contains("more than any work holds"), answer.err.constData());
    }

    void takesThatNeverEndAreRefused_data()
    {
        QTest::addColumn<QString>("take");
        std::string deep;
        for (int i = 0; i < 50000; ++i)
            deep += "[";
        QTest::newRow("nesting") << QString::fromStdString(
            R"({"format": "buttonhole-take", "mine": )" + deep + std::string(50000, ']') + "}");
        std::string points = "[0,0]";
        for (int i = 1; i < 1000000; ++i)
            points += i % 2 ? ",[159,119]" : ",[0,0]";
        QTest::newRow("a million points") << QString::fromStdString(
            takeWith(R"({"kind": "brush", "strokes": [{"points": [)" + points + "]}]}"));
        std::string far = "[0,0]";
        for (int i = 1; i < 90000; ++i)
            far += i % 2 ? ",[199999,0]" : ",[0,0]";
        QTest::newRow("a way without end") << QString::fromStdString(
            takeWith(R"({"kind": "brush", "strokes": [{"sizePx": 1, "points": [)" + far + "]}]}"));
        std::string steps = R"({"kind": "brush", "strokes": [{"points": [[1, 1]]}]})";
        const std::string one = steps;
        for (int i = 0; i < 20000; ++i)
            steps += "," + one;
        QTest::newRow("too many steps") << QString::fromStdString(takeWith(steps));
    }
    void takesThatNeverEndAreRefused()
    {
        QFETCH(QString, take);
        const QString file = writeText("endless.json", take.toStdString());
        const Answer answer = run({"--json", "apply", photo(), "--take", file, "-o", at("o.png")});
        QCOMPARE(answer.code, 4);
        QVERIFY(errorOf(answer).is_object());
    }

    void aSubjectOutsideThePhotoIsEmpty_data()
    {
        QTest::addColumn<QString>("step");
        QTest::newRow("box") << R"({"kind": "subject", "box": [900, 900, 1200, 1200]})";
        QTest::newRow("mark") << R"({"kind": "subject", "marks": [{"points": [[5000, 4000]]}]})";
        QTest::newRow("ovals") << R"({"kind": "subject", "box": [900, 900, 1200, 1200],
                                      "subject": {"ovals": [[900, 900, 1200, 1200]]}})";
        QTest::newRow("region") << R"({"kind": "region", "box": [-900, -900, -12, -12]})";
        QTest::newRow("no box beside a mark")
            << R"({"kind": "subject", "box": [0, 0, 0, 0], "marks": [{"points": [[50, 40]]}]})";
    }
    void aSubjectOutsideThePhotoIsEmpty()
    {
        QFETCH(QString, step);
        const QString take = writeText("far.json", takeWith(step.toStdString()));
        const Answer answer = run({"apply", photo(), "--take", take, "-o", at("o.png")});
        QVERIFY2(answer.code == 0, answer.err.constData());
        QVERIFY(QFile::exists(at("o.png")));
    }

    void noOutputIsAnInput_data()
    {
        QTest::addColumn<QStringList>("arguments");
        QTest::addColumn<QString>("kept"); ///< what must stay as it was
        QTest::newRow("mask over its work")
            << QStringList{"mask", "W", "--keep", "Loom", "-o", "W"} << "W";
        QTest::newRow("work over the take")
            << QStringList{"apply", "P", "--take", "T", "--save", "T"} << "T";
        QTest::newRow("work over the take, by a link")
            << QStringList{"apply", "P", "--take", "T", "--save", "L"} << "T";
        QTest::newRow("picture over the mask")
            << QStringList{"apply", "P", "--take", "T", "--mask-of", "Loom", "M", "-o", "M"} << "M";
        QTest::newRow("mask over the mask")
            << QStringList{"apply", "P", "--take",     "T",    "--mask-in",
                           "Loom",  "M", "--mask-out", "Loom", "M"}
            << "M";
        QTest::newRow("two into one")
            << QStringList{"apply", "P", "--take", "T", "--save", "X.png", "-o", "X.png"} << "";
        QTest::newRow("PNG named JPEG")
            << QStringList{"mask", "W", "--keep", "Loom", "-o", "M.jpg"} << "";
        QTest::newRow("work named JPEG")
            << QStringList{"apply", "P", "--take", "T", "--save", "other.jpg"} << "";
        QTest::newRow("picture over the photo of the work")
            << QStringList{"render", "W", "-o", "P"} << "P";
    }
    void noOutputIsAnInput()
    {
        QFETCH(QStringList, arguments);
        QFETCH(QString, kept);
        QMap<QString, QString> names{{"W", work()}, {"P", photo()}, {"T", aTake()}};
        names["L"] = at("link.buttonhole");
        QVERIFY(QFile::link(aTake(), names["L"]));
        test::writeByLibrary(at("M.png"), test::makePicture<uint16_t>(160, 120, 1),
                             test::Type::U16);
        names["M"] = at("M.png");
        for (QString &each : arguments)
            each = names.contains(each)                          ? names[each]
                   : each.contains('.') && !each.startsWith('-') ? at(each)
                                                                 : each;
        const auto before = kept.isEmpty() ? std::vector<uint8_t>() : test::bytesOf(names[kept]);
        const QStringList there = files();
        const Answer answer = run(QStringList{"--json"} + arguments);
        QCOMPARE(answer.code, 2);
        if (!kept.isEmpty())
            QCOMPARE(test::bytesOf(names[kept]), before);
        QCOMPARE(files(), there);
    }

    void thePhotosPlaceIsToldFromWhereTheWorkIs()
    {
        QDir().mkpath(at("in"));
        QDir().mkpath(at("out"));
        QVERIFY(QFile::rename(photo(), at("in/loom.png")));
        QProcess process;
        process.setWorkingDirectory(at("in"));
        process.start(QStringLiteral(BUTTONHOLE_CLI),
                      {"apply", "loom.png", "--take", aTake(), "--save", "../out/loom.buttonhole"});
        QVERIFY(process.waitForFinished());
        QCOMPARE(process.exitCode(), 0);
        const auto container = loadContainer(at("out/loom.buttonhole").toStdString());
        QCOMPARE(QString::fromStdString(container->photo.relativePath),
                 QStringLiteral("../in/loom.png"));
    }

    void aWriteProtectedFileIsLeftAlone()
    {
        const QString file = work();
        const auto before = test::bytesOf(file);
        QVERIFY(QFile::setPermissions(file, QFile::ReadOwner));
        const Answer answer =
            run({"--json", "apply", photo("other.png"), "--take", aTake(), "--save", file});
        QCOMPARE(answer.code, 5);
        QCOMPARE(errorOf(answer).at("error").get<std::string>(), std::string("no-permission"));
        QCOMPARE(test::bytesOf(file), before);
    }

    void aWorkThatIsOpenElsewhereIsLeftAlone()
    {
        const QString file = work();
        const auto before = test::bytesOf(file);
        const auto lock = WorkLock::take(file.toStdString());
        QVERIFY(lock);
        const Answer answer =
            run({"--json", "apply", photo("other.png"), "--take", aTake(), "--save", file});
        QCOMPARE(answer.code, 5);
        QCOMPARE(errorOf(answer).at("error").get<std::string>(), std::string("conflict"));
        QCOMPARE(test::bytesOf(file), before);
    }

    void anotherPhotoIsSaid()
    {
        const QString file = work();
        test::writeByLibrary(at("other.png"), test::makePicture<uint16_t>(160, 120, 1),
                             test::Type::U8);
        const Answer answer =
            run({"render", file, "--photo", at("other.png"), "-o", at("rendered.png")});
        QVERIFY2(answer.code == 0, answer.err.constData());
        QVERIFY2(answer.err.contains("not the photo that this work was made on"),
                 answer.err.constData());
    }

    void signalsLeaveNoHalves_data()
    {
        QTest::addColumn<int>("signal");
        QTest::newRow("SIGTERM") << SIGTERM;
        QTest::newRow("SIGHUP") << SIGHUP;
    }
    void signalsLeaveNoHalves()
    {
        QFETCH(int, signal);
        QProcess process;
        process.start(QStringLiteral(BUTTONHOLE_CLI),
                      {"render", test::demo("spools.jpg"), "-o", at("big.tif"), "--bits", "16"});
        QVERIFY(process.waitForStarted());
        while (files().isEmpty() && process.state() == QProcess::Running)
            QTest::qWait(1); // until it writes
        ::kill(pid_t(process.processId()), signal);
        QVERIFY(process.waitForFinished(60000));
        QCOMPARE(process.exitStatus(), QProcess::NormalExit);
        QCOMPARE(process.exitCode(), 1);
        QVERIFY2(files().isEmpty(), qPrintable(files().join(' ')));
    }

    void aTiffHasOnePageWithItsResolution()
    {
        const QString from = at("with.jpg");
        test::writeJpeg(from, test::makePicture<uint8_t>(320, 200));
        test::addMetadata(from, 1);
        QProcess tool;
        tool.start("exiftool", {"-overwrite_original", "-XResolution=300", "-YResolution=300",
                                "-ResolutionUnit=inches", from});
        QVERIFY(tool.waitForFinished());
        for (const char *name : {"o.tif", "o.jpg", "o.png"}) {
            QCOMPARE(run({"render", from, "-o", at(name)}).code, 0);
            tool.start("exiftool", {"-j", "-G1", "-a", at(name)});
            QVERIFY(tool.waitForFinished());
            const json told = json::parse(tool.readAllStandardOutput().toStdString()).at(0);
            QVERIFY2(told.value("IFD0:XResolution", 0.0) == 300, told.dump(1).c_str());
            QVERIFY(told.at("IFD0:Make") == "Fernhollow");
            for (const auto &[key, value] : told.items())
                QVERIFY2(!QString(name).endsWith("tif") || key.rfind("IFD1", 0) != 0, key.c_str());
            const auto back = loadPhoto(at(name).toStdString());
            QVERIFY(back);
            QCOMPARE(qRound(back->dpi), 300);
        }
    }

    void aResolutionWithoutExifIsKept()
    {
        const QString from = at("plain.jpg");
        test::writeJpeg(from, test::makePicture<uint8_t>(320, 200));
        QProcess tool;
        tool.start("exiftool", {"-overwrite_original", "-JFIF:XResolution=240",
                                "-JFIF:YResolution=240", "-JFIF:ResolutionUnit=inches", from});
        QVERIFY(tool.waitForFinished());
        for (const char *name : {"o.tif", "o.jpg", "o.png"}) {
            QCOMPARE(run({"render", from, "-o", at(name)}).code, 0);
            QCOMPARE(qRound(loadPhoto(at(name).toStdString())->dpi), 240);
        }
    }

    void pipesAndDevicesAreRefused()
    {
        const QString pipe = at("pipe");
        QVERIFY(::mkfifo(qPrintable(pipe), 0600) == 0);
        const Answer answer = run({"--json", "info", pipe});
        QCOMPARE(answer.code, 4);
        QVERIFY(answer.err.contains("pipe"));
    }

    void whatCannotBePrintedIsAFailure()
    {
        const Answer answer = run({"--json", "info", photo()}, {}, "/dev/full");
        QCOMPARE(answer.code, 5);
        QCOMPARE(errorOf(answer).at("error").get<std::string>(), std::string("disk-full"));
    }

    void aTakeMayComeThroughAPipe()
    {
        const Answer answer =
            run({"apply", photo(), "--take", "/dev/stdin", "-o", at("o.png")}, aTake());
        QVERIFY2(answer.code == 0, answer.err.constData());
        QProcess process;
        process.start(QStringLiteral(BUTTONHOLE_CLI),
                      {"apply", photo(), "--take", "/dev/stdin", "-o", at("p.png")});
        const auto take = test::bytesOf(aTake());
        process.write(reinterpret_cast<const char *>(take.data()), qint64(take.size()));
        process.closeWriteChannel();
        QVERIFY(process.waitForFinished());
        QCOMPARE(process.exitCode(), 0);
        QCOMPARE(test::bytesOf(at("p.png")), test::bytesOf(at("o.png")));
    }

    void theLongestNameCanBeWritten()
    {
        const QString name = QString(251, 'n') + ".png";
        QCOMPARE(run({"render", photo(), "-o", at(name)}).code, 0);
        QVERIFY(QFile::exists(at(name)));
    }

    void aNameThatIsNoTextComesBack()
    {
        const std::string raw = m_folder->path().toStdString() + "/m\xFChle.png";
        QVERIFY(::rename(photo().toStdString().c_str(), raw.c_str()) == 0);
        const std::string file = at("m.buttonhole").toStdString();
        const std::string command = std::string("'") + BUTTONHOLE_CLI + "' --quiet apply '" + raw +
                                    "' --take '" + aTake().toStdString() + "' --save '" + file +
                                    "' && '" + BUTTONHOLE_CLI + "' --quiet render '" + file +
                                    "' -o '" + at("m.jpg").toStdString() + "'";
        QCOMPARE(std::system(command.c_str()), 0);
        QVERIFY(QFile::exists(at("m.jpg")));
        QCOMPARE(::unlink(raw.c_str()), 0); // Qt cannot name it
    }

    void applyTakesALook()
    {
        const QStringList start{"apply", photo(), "--take", aTake(), "-o"};
        QCOMPARE(run(start + QStringList{at("plain.png")}).code, 0);
        QCOMPARE(run(start + QStringList{at("tweed.png"), "--look", "tweed"}).code, 0);
        QCOMPARE(run(start + QStringList{at("auto.png"), "--auto"}).code, 0);
        QVERIFY(test::bytesOf(at("plain.png")) != test::bytesOf(at("tweed.png")));
        QVERIFY(test::bytesOf(at("plain.png")) != test::bytesOf(at("auto.png")));
    }

    /// The rest of a work is to be had although its signature cannot be drawn.
    void aHostileSignatureHarmsNothingElse()
    {
        QFile drawing(at("mark.svg"));
        QVERIFY(drawing.open(QIODevice::WriteOnly));
        drawing.write(QByteArray::fromStdString(test::hostileDrawing()));
        drawing.close();
        const QStringList sign{"--sign-with", at("mark.svg")};
        QCOMPARE(
            run(QStringList{"apply", photo(), "--take", aTake(), "--save", at("w.buttonhole")} +
                sign)
                .code,
            0);
        const Answer answer = run({"render", at("w.buttonhole"), "-o", at("o.png")});
        QCOMPARE(answer.code, 4);
        QVERIFY2(answer.err.contains("signature"), answer.err.constData());
        QVERIFY(!QFile::exists(at("o.png")));
        QCOMPARE(run({"render", at("w.buttonhole"), "-o", at("o.png"), "--unsigned"}).code, 0);
        QCOMPARE(run({"info", at("w.buttonhole")}).code, 0);
    }

    void aWrongValueInATakeIsBadInput()
    {
        const QString take =
            writeText("wrong.json", R"({"format": "buttonhole-take", "keeps": [{"strength": 7}]})");
        const Answer answer = run({"--json", "apply", photo(), "--take", take, "-o", at("o.png")});
        QCOMPARE(answer.code, 4);
        QVERIFY(errorOf(answer).at("message").get<std::string>().find("strength") !=
                std::string::npos);
    }
};

BUTTONHOLE_TEST(TstSafety)

#include "tst_safety.moc"

#include "document/container.h"
#include "io/photo.h"

#include "registry.h"
#include "sample_files.h"
#include "samples.h"

#include <nlohmann/json.hpp>

#include <QDir>
#include <QFile>
#include <QProcess>
#include <QTemporaryDir>

using namespace buttonhole;
using nlohmann::json;

/// The program ended well; if not, what it said is shown.
#define SUCCEEDS(run)                                                                              \
    do {                                                                                           \
        const Answer said = (run);                                                                 \
        QVERIFY2(said.code == 0, (QByteArray::number(said.code) + ": " + said.err).constData());   \
    } while (false)

/// The command line as it is run: exit codes, what it prints, the files it writes.
class TstCli : public QObject
{
    Q_OBJECT
    QTemporaryDir m_folder;

    struct Answer {
        int code;
        QByteArray out;
        QByteArray err;
    };

    QString at(const char *name) const { return m_folder.filePath(QLatin1String(name)); }

    static Answer run(const QStringList &arguments,
                      const QString &program = QStringLiteral(BUTTONHOLE_CLI))
    {
        QProcess process;
        process.start(program, arguments);
        process.waitForFinished(120000);
        return {process.exitStatus() == QProcess::NormalExit ? process.exitCode() : -1,
                process.readAllStandardOutput(), process.readAllStandardError()};
    }

    static json parsed(const QByteArray &text)
    {
        return json::parse(text.begin(), text.end(), nullptr, false);
    }

    QString writeTake(const char *name, const char *keepExtras = "")
    {
        const std::string text =
            std::string(R"({"format": "buttonhole-take", "name": "Open day", "keeps": [
              {"name": "Orange spool",)") +
            keepExtras + R"( "steps": [{"kind": "brush", "sign": "add", "strokes": [
                {"sizePx": 220, "softness": 0.5, "points": [[1325, 770], [1325, 890]]},
                {"sizePx": 40, "takesBack": true, "points": [[1230, 700], [1230, 950]]}]}]}]})";
        test::writeFile(at(name), text.data(), text.size());
        return at(name);
    }

private Q_SLOTS:
    void infoPrintsWhatIsKnown()
    {
        const Answer answer = run({"info", test::demo("button-jar.jpg")});
        SUCCEEDS(answer);
        const json info = parsed(answer.out);
        QCOMPARE(info.at("width").dump(), json(1200).dump()); // upright: stored turned
        QCOMPARE(info.at("height").dump(), json(1800).dump());
        QCOMPARE(info.at("bitsPerChannel").dump(), json(8).dump());
        QCOMPARE(info.at("format").dump(), json("JPEG").dump());
        QVERIFY(!info.at("profile").at("name").get<std::string>().empty());
        QVERIFY(info.at("metadata").is_object());
        QCOMPARE(info.at("takes").at(0).at("keeps").at(0).at("name").dump(), json("Keep 1").dump());
    }

    void greyIsChosenByLookOrFound()
    {
        const Answer looks = run({"looks"});
        SUCCEEDS(looks);
        QVERIFY(parsed(looks.out).size() >= 14);
        const Answer plain = run({"grey", test::demo("spools.jpg")});
        const Answer found = run({"grey", test::demo("spools.jpg"), "--auto"});
        SUCCEEDS(found);
        QVERIFY(parsed(found.out).at("colourContrastRatio").get<double>() >
                parsed(plain.out).at("colourContrastRatio").get<double>());
        QVERIFY(!parsed(found.out).at("grey").at("hueCurve").empty());
        const auto render = [&](const char *name, const QStringList &options) {
            return run(QStringList{"render", test::demo("spools.jpg"), "-o", at(name),
                                   "--long-edge", "300"} +
                       options)
                .code;
        };
        QCOMPARE(render("plain.png", {}), 0);
        QCOMPARE(render("tweed.png", {"--look", "tweed"}), 0);
        QCOMPARE(render("none.png", {"--look", "tweed", "--look-strength", "0"}), 0);
        QVERIFY(test::bytesOf(at("tweed.png")) != test::bytesOf(at("plain.png")));
        QCOMPARE(test::bytesOf(at("none.png")), test::bytesOf(at("plain.png")));
        QCOMPARE(render("x.png", {"--look", "velour"}), 3);
        QCOMPARE(render("x.png", {"--look", "tweed", "--look-strength", "101"}), 2);
    }

    void singleNumbersCanBeSet()
    {
        const QString take = writeTake("set.json");
        SUCCEEDS(run({"apply", test::demo("spools.jpg"), "--take", take, "--save",
                      at("set.buttonhole"), "--set", "keep:Orange spool.featherPx=3", "--set",
                      "keep:Orange spool.look.saturation=0.5", "--set", "grey.tone.contrast=20"}));
        const auto saved = loadContainer(at("set.buttonhole").toStdString());
        QCOMPARE(saved->work.take().keeps[0].featherPx, 3.0F);
        QCOMPARE(saved->work.take().keeps[0].look.saturation, 0.5F);
        QCOMPARE(saved->work.take().grey.tone.contrast, 20.0F);
        const auto code = [&](const char *assignment) {
            return run({"render", at("set.buttonhole"), "-o", at("set.jpg"), "--set", assignment})
                .code;
        };
        QCOMPARE(code("keep:Orange spool.growPx=-4"), 0);
        QCOMPARE(code("keep:Orange spool.loupe=1"), 3);
        QCOMPARE(code("keep:No such.growPx=1"), 3);
        QCOMPARE(code("grey.strength=7"), 2);
        QCOMPARE(code("grey.strength=much"), 2);
        QCOMPARE(code("grey.strength"), 2);
    }

    void renderWritesEachFormat_data()
    {
        QTest::addColumn<QStringList>("options");
        QTest::addColumn<QString>("name");
        QTest::addColumn<int>("width");
        QTest::addColumn<int>("bits");
        QTest::newRow("JPEG") << QStringList{"--quality", "80"} << "o.jpg" << 1800 << 8;
        QTest::newRow("PNG 16") << QStringList{"--bits", "16", "--long-edge", "600"} << "o.png"
                                << 600 << 16;
        QTest::newRow("TIFF") << QStringList{"--profile", "srgb"} << "o.tif" << 1800 << 8;
    }
    void renderWritesEachFormat()
    {
        QFETCH(QStringList, options);
        QFETCH(QString, name);
        QFETCH(int, width);
        QFETCH(int, bits);
        const QString out = m_folder.filePath(name);
        const Answer answer =
            run(QStringList{"render", test::demo("loom.jpg"), "-o", out} + options);
        QVERIFY2(answer.code == 0, answer.err.constData());
        QVERIFY(answer.out.isEmpty());
        const auto photo = loadPhoto(out.toStdString());
        QVERIFY(photo);
        QCOMPARE(photo->width, width);
        QCOMPARE(photo->bitDepth(), bits);
        // All grey: nothing was kept.
        for (int x = 0; x < photo->width; x += 37)
            QVERIFY(std::abs(test::codeAt(*photo, x, 100, 0) - test::codeAt(*photo, x, 100, 2)) <
                    2600);
    }

    void applySaveRenderAndMaskAgree()
    {
        const QString take = writeTake("take.json");
        const QString file = at("spools.buttonhole");
        const Answer applied = run({"apply", test::demo("spools.jpg"), "--take", take, "-o",
                                    at("applied.png"), "--save", file});
        QVERIFY2(applied.code == 0, applied.err.constData());
        SUCCEEDS(run({"render", file, "-o", at("rendered.png")}));
        const auto one = loadPhoto(at("applied.png").toStdString());
        const auto two = loadPhoto(at("rendered.png").toStdString());
        const auto &a = std::get<Image<uint8_t>>(one->pixels);
        const auto &b = std::get<Image<uint8_t>>(two->pixels);
        QVERIFY(std::equal(a.row(0), a.row(0) + a.count(), b.row(0)));
        const uint8_t *kept = a.pixel(1325, 830);
        QVERIFY(kept[0] > kept[2] + 60); // the spool is red
        const uint8_t *grey = a.pixel(300, 300);
        QVERIFY(std::abs(grey[0] - grey[2]) <= 1);

        SUCCEEDS(run({"mask", file, "--keep", "Orange spool", "-o", at("mask.png")}));
        const auto mask = loadPhoto(at("mask.png").toStdString());
        QCOMPARE(mask->bitDepth(), 16);
        QCOMPARE(test::codeAt(*mask, 1325, 830, 0), uint16_t(65535));
        QCOMPARE(test::codeAt(*mask, 300, 300, 0), uint16_t(0));

        const json info = parsed(run({"info", file}).out);
        QCOMPARE(info.at("takes").at(0).at("name").dump(), json("Open day").dump());
        QCOMPARE(info.at("takes").at(0).at("keeps").at(0).at("steps").at(0).at("facts").dump(),
                 json({{"strokes", 2.0}}).dump());
        SUCCEEDS(run({"render", file, "--take", "Open day", "-o", at("named.jpg")}));
    }

    /// What is found can be kept: its step goes into a take as it is printed.
    void foundSubjectsAreKept()
    {
        const QString photo =
            QStringLiteral("/usr/lib/python3/dist-packages/skimage/data/astronaut.png");
        const Answer answer = run({"subjects", photo, "--outlines"});
        SUCCEEDS(answer);
        const json found = parsed(answer.out);
        QCOMPARE(found.at(0).at("group").get<std::string>(), std::string("main subject"));
        const auto person = std::find_if(found.begin(), found.end(), [](const json &each) {
            return each.at("word") == "person";
        });
        QVERIFY(person != found.end());
        QVERIFY(person->at("certainty").get<double>() > 0.6);
        const json &outlines = person->at("outlines");
        double lowest = 0;
        for (const json &point : outlines.at(0))
            lowest = std::max(lowest, point.at(1).get<double>());
        QVERIFY2(outlines.at(0).size() > 100 && lowest > 480, qPrintable(QString::number(lowest)));
        const json take{{"format", "buttonhole-take"},
                        {"keeps",
                         {{{"name", "Pilot"},
                           {"softEdgePx", 4},
                           {"spill", 1},
                           {"steps", json::array({person->at("step")})}}}}};
        const std::string text = take.dump();
        test::writeFile(at("person.json"), text.data(), text.size());
        SUCCEEDS(run({"apply", photo, "--take", at("person.json"), "-o", at("person.png")}));
        const auto picture = loadPhoto(at("person.png").toStdString());
        QVERIFY(picture);
        const auto colour = [&](int x, int y) {
            const auto *rgb = std::get<Image<uint8_t>>(picture->pixels).pixel(x, y);
            return *std::max_element(rgb, rgb + 3) - *std::min_element(rgb, rgb + 3);
        };
        QVERIFY(colour(120, 300) > 60); // the suit
        QVERIFY(colour(222, 110) > 25); // the face
        QVERIFY(colour(30, 130) <= 1);  // the flag
        // Without the models that is said, and what names the remedy.
        qputenv("BUTTONHOLE_MODELS", "/nowhere");
        const Answer none = run({"--json", "subjects", photo});
        qunsetenv("BUTTONHOLE_MODELS");
        QCOMPARE(none.code, 3);
        QVERIFY(none.err.contains("reinstall"));
    }

    /// What is suggested can be cropped to; light is set by the photo on the way.
    void cropsAreSuggestedAndLightIsSet()
    {
        const QString photo = test::demo("wool-basket.jpg");
        const Answer answer = run({"crops", photo, "--ratio", "1.25"});
        SUCCEEDS(answer);
        const json ideas = parsed(answer.out);
        QVERIFY(ideas.size() >= 2);
        const json &best = ideas.at(0);
        const auto number = [&](const char *name) {
            return QString::number(best.at(name).get<int>());
        };
        QVERIFY(std::abs(best.at("width").get<double>() / best.at("height").get<double>() - 1.25) <
                0.01);
        SUCCEEDS(run({"render", photo, "-o", at("lit.png"), "--auto-light", "--crop", number("x"),
                      number("y"), number("width"), number("height")}));
        SUCCEEDS(run({"render", photo, "-o", at("plain.png"), "--crop", number("x"), number("y"),
                      number("width"), number("height")}));
        const auto lit = loadPhoto(at("lit.png").toStdString());
        const auto plain = loadPhoto(at("plain.png").toStdString());
        QVERIFY(lit && plain);
        QCOMPARE(lit->width, best.at("width").get<int>());
        QVERIFY(test::codeAt(*lit, 300, 300, 1) > test::codeAt(*plain, 300, 300, 1));
        QCOMPARE(run({"crops", photo, "--ratio", "-1"}).code, 2);
    }

    /// A folder of photos is made ready; what is none is named, and the others go on.
    void foldersArePrepared()
    {
        QDir().mkpath(at("shoot"));
        QVERIFY(QFile::copy(test::demo("washing-line.jpg"), at("shoot/a.jpg")));
        QVERIFY(QFile::copy(test::demo("loom.jpg"), at("shoot/b.jpg")));
        test::writeFile(at("shoot/c.jpg"), "none", 4);
        const Answer answer = run(
            {"prepare", at("shoot"), "--straighten", "--spots", "--auto-light", "-o", at("ready")});
        QCOMPARE(answer.code, 4);
        QVERIFY(answer.err.contains("c.jpg") && answer.err.contains("2 of 3"));
        QVERIFY2(answer.err.contains("b.jpg: no straight edges"), answer.err.constData());
        const auto level = loadPhoto(at("ready/a.jpg").toStdString());
        const auto asTaken = loadPhoto(at("ready/b.jpg").toStdString());
        QVERIFY(level && asTaken);
        QVERIFY(level->width < 2400 && level->width > 2000); // it was turned
        QCOMPARE(asTaken->width, 1800);
        // The same by numbers; and one photo goes into one file.
        SUCCEEDS(run({"render", test::demo("loom.jpg"), "-o", at("turned.png"), "--set",
                      "straighten.angleDeg=5", "--set", "prepare.lens.barrel=0.2"}));
        const auto turned = loadPhoto(at("turned.png").toStdString());
        QVERIFY(turned);
        QVERIFY(turned->width < 1800);
        SUCCEEDS(run({"prepare", test::demo("loom.jpg"), "-o", at("one.png")}));
        QCOMPARE(
            run({"render", test::demo("loom.jpg"), "-o", at("no.png"), "--lens", "None 5mm"}).code,
            3);
        QCOMPARE(run({"render", test::demo("loom.jpg"), "-o", at("no.png"), "--set",
                      "straighten.angleDeg=90"})
                     .code,
                 2);
    }

    /// What a mask covers goes; the rest keeps its codes.
    void whatAMaskCoversIsRemoved()
    {
        const QString photo = test::demo("washing-line.jpg");
        QByteArray mask("P5\n2400 1600\n255\n");
        for (int y = 0; y < 1600; ++y)
            for (int x = 0; x < 2400; ++x)
                mask += char(x >= 700 && x < 820 && y >= 1250 && y < 1350 ? 255 : 0);
        test::writeFile(at("hole.pgm"), mask.constData(), size_t(mask.size()));
        SUCCEEDS(run({"remove", photo, "--mask", at("hole.pgm"), "-o", at("without.png")}));
        const auto before = loadPhoto(photo.toStdString());
        const auto after = loadPhoto(at("without.png").toStdString());
        QVERIFY(before && after);
        QVERIFY(test::codeAt(*after, 760, 1300, 1) != test::codeAt(*before, 760, 1300, 1) ||
                test::codeAt(*after, 761, 1300, 1) != test::codeAt(*before, 761, 1300, 1));
        for (const int x : {100, 600, 900, 2000})
            QCOMPARE(test::codeAt(*after, x, 1300, 1), test::codeAt(*before, x, 1300, 1));
        QCOMPARE(run({"remove", photo, "--keep", "None", "-o", at("no.png")}).code, 3);
        QCOMPARE(run({"remove", photo, "--mask", at("nowhere.png"), "-o", at("no.png")}).code, 3);
        QCOMPARE(run({"remove", photo, "--mask", at("hole.pgm"), "-o", photo}).code, 2);
        QCOMPARE(run({"remove", photo, "--mask", at("hole.pgm"), "-o", at("hole.pgm")}).code, 2);
    }

    /// The removal goes into a work, and what is rendered from it is what was written at once.
    void removalsTonesAndSizesGoThroughWorks()
    {
        const QString photo = test::demo("loom.jpg");
        QByteArray mask("P5\n1800 1200\n255\n");
        for (int y = 0; y < 1200; ++y)
            for (int x = 0; x < 1800; ++x)
                mask += char(x >= 300 && x < 380 && y >= 200 && y < 260 ? 255 : 0);
        test::writeFile(at("small.pgm"), mask.constData(), size_t(mask.size()));
        SUCCEEDS(run({"remove", photo, "--mask", at("small.pgm"), "-o", at("out.png")}));
        SUCCEEDS(run({"remove", photo, "--mask", at("small.pgm"), "-o", at("out.buttonhole")}));
        SUCCEEDS(run({"render", at("out.buttonhole"), "-o", at("kept.png"), "--local", "everything",
                      "--set", "tone:Local 1.fog.amount=0.4", "--set",
                      "finish.vignette.amount=-0.5", "--deliver", "900", "600"}));
        const auto small = loadPhoto(at("kept.png").toStdString());
        QVERIFY(small);
        QCOMPARE(small->width, 900);
        QCOMPARE(small->height, 600);
        const auto corner = test::codeAt(*small, 0, 0, 0);
        QVERIFY(test::codeAt(*small, 450, 300, 0) > corner);
        const auto work = loadContainer(at("out.buttonhole").toStdString());
        QVERIFY(work && work->work.take().removals.size() == 1);
        QVERIFY(work->work.take().removals[0].patch);
        QCOMPARE(run({"render", photo, "-o", at("no.png"), "--local", "glitter"}).code, 3);
        QCOMPARE(run({"render", photo, "-o", at("no.png"), "--deliver", "0", "9"}).code, 2);
    }

    /// A region without a stored mask is grown, saved with its keep's edge, and opens to the same.
    void aRegionIsGrownSavedAndRendered()
    {
        const std::string text = R"({"format": "buttonhole-take", "keeps": [{"name": "Cloth",
            "softEdgePx": 3, "specksPx": 12, "holesPx": 12, "steps": [
              {"kind": "region", "sign": "add", "marks": [{"points": [[950, 800]], "radiusPx": 8}]},
              {"kind": "fade", "sign": "subtract", "from": [900, 1400], "to": [900, 1000],
               "insideOf": "what-is-there"}]}]})";
        test::writeFile(at("cloth.json"), text.data(), text.size());
        const QString photo = test::demo("washing-line.jpg");
        SUCCEEDS(run({"apply", photo, "--take", at("cloth.json"), "-o", at("cloth.png"), "--save",
                      at("cloth.buttonhole")}));
        SUCCEEDS(run({"render", at("cloth.buttonhole"), "-o", at("cloth-2.png")}));
        QVERIFY(test::bytesOf(at("cloth-2.png")) == test::bytesOf(at("cloth.png")));
        // Where its edge cannot be made soft nothing else is written in its place.
        qputenv("BUTTONHOLE_MODELS", "/nowhere");
        const Answer hard = run({"render", at("cloth.buttonhole"), "-o", at("hard.png")});
        const Answer hardMask =
            run({"mask", at("cloth.buttonhole"), "--keep", "Cloth", "-o", at("hard.png")});
        qunsetenv("BUTTONHOLE_MODELS");
        QCOMPARE(hard.code, 3);
        QCOMPARE(hardMask.code, 3);
        QVERIFY(hard.err.contains("edge.onnx") && hard.err.contains("reinstall"));
        QVERIFY(!QFile::exists(at("hard.png")));
        SUCCEEDS(run({"mask", at("cloth.buttonhole"), "--keep", "Cloth", "-o", at("cloth-mask.png"),
                      "--bits", "8"}));
        const auto mask = loadPhoto(at("cloth-mask.png").toStdString());
        QVERIFY(mask);
        const auto &coverage = std::get<Image<uint8_t>>(mask->pixels);
        QVERIFY(*coverage.pixel(900, 600) > 250);
        QVERIFY(*coverage.pixel(420, 700) < 5);
    }

    /// An installed program brings its models and modules along, and uses those.
    void itRunsWhereItIsInstalled()
    {
        const QString prefix = at("installed");
        SUCCEEDS(run({"--install", BUTTONHOLE_BUILD, "--prefix", prefix}, BUTTONHOLE_CMAKE));
        const QString program = prefix + "/bin/buttonhole-cli";
        const std::string text = R"({"format": "buttonhole-take", "keeps": [{"name": "Sky",
            "softEdgePx": 3, "steps": [{"kind": "fade", "from": [0, 400], "to": [0, 800]}]}]})";
        test::writeFile(at("sky.json"), text.data(), text.size());
        const QStringList ask{
            "apply", test::demo("washing-line.jpg"), "--take", at("sky.json"), "-o", at("sky.tif")};
        SUCCEEDS(run(ask, program));
        QFile model(prefix + "/share/buttonhole/models/edge.onnx");
        QVERIFY(model.open(QIODevice::ReadWrite) && model.resize(1000));
        model.close();
        const Answer damaged = run(ask, program);
        QCOMPARE(damaged.code, 4);
        QVERIFY2(damaged.err.contains("edge.onnx"), damaged.err.constData());
    }

    /// Places marked by hand and a width found in the photo come through a file and back.
    void marksAndFoundWidthsAreAppliedAndSaved()
    {
        const QString photo = test::demo("washing-line.jpg");
        const auto applied = [&](const char *more, bool isOn, const char *out) {
            const std::string text =
                std::string(R"({"format": "buttonhole-take", "keeps": [{"name": "Cloth", )") +
                more + R"("steps": [{"kind": "region", "sign": "add",
                                     "marks": [{"points": [[950, 800]], "radiusPx": 8}]},
                                    {"kind": "brush", "sign": "spill", "on": )" +
                (isOn ? "true" : "false") + R"(, "strokes": [
                         {"sizePx": 60, "softness": 0, "flow": 1, "points": [[900, 700]]}]}]}]})";
            test::writeFile(at("marked.json"), text.data(), text.size());
            const Answer answer = run({"apply", photo, "--take", at("marked.json"), "-o", at(out),
                                       "--save", at("marked.buttonhole")});
            if (answer.code != 0)
                qFatal("%s", answer.err.constData());
            if (run({"render", at("marked.buttonhole"), "-o", at("again.png")}).code != 0 ||
                test::bytesOf(at("again.png")) != test::bytesOf(at(out)))
                qFatal("%s comes back as another picture", out);
            return *loadPhoto(at(out).toStdString());
        };
        const auto pixels = [](Photo of) { return std::get<Image<uint8_t>>(std::move(of.pixels)); };
        const auto plain = pixels(applied("", false, "plain.png"));
        const auto marked = pixels(applied("", true, "marked.png"));
        const auto found = pixels(applied(R"("softEdgeFound": true, )", false, "found.png"));
        const auto differs = [&](const Image<uint8_t> &one, int x, int y) {
            return !std::equal(one.pixel(x, y), one.pixel(x, y) + 3, plain.pixel(x, y));
        };
        int inMark = 0;
        int beyond = 0;
        int atEdge = 0;
        int inside = 0;
        for (int y = 400; y < 1000; ++y)
            for (int x = 560; x < 1200; ++x) {
                const bool isMarked = std::hypot(x + 0.5 - 900, y + 0.5 - 700) < 32;
                (isMarked ? inMark : beyond) += differs(marked, x, y) ? 1 : 0;
                const bool isFarIn = x > 760 && x < 1100 && y > 480;
                (isFarIn ? inside : atEdge) += differs(found, x, y) ? 1 : 0;
            }
        QVERIFY2(inMark > 1500, qPrintable(QString::number(inMark)));
        QCOMPARE(beyond, 0);
        QVERIFY2(atEdge > 100, qPrintable(QString::number(atEdge)));
        QVERIFY2(inside < 50, qPrintable(QString::number(inside)));
    }

    void aMaskPictureJoinsAKeep()
    {
        const QString take = writeTake("take2.json");
        const QString matte = QStringLiteral(BUTTONHOLE_DEMO "/spools.spool.matte.png");
        const Answer answer =
            run({"apply", test::demo("spools.jpg"), "--take", take, "-o", at("matte.png"),
                 "--mask-in", "Orange spool", matte, "--save", at("matte.buttonhole"), "--mask-out",
                 "Orange spool", at("out.png")});
        QVERIFY2(answer.code == 0, answer.err.constData());
        const json info = parsed(run({"info", at("matte.buttonhole")}).out);
        QCOMPARE(info.at("takes").at(0).at("keeps").at(0).at("steps").size(), size_t(2));
        SUCCEEDS(run({"mask", at("matte.buttonhole"), "--keep", "Orange spool", "--bits", "8", "-o",
                      at("back.png")}));
        SUCCEEDS(run(
            {"mask", at("matte.buttonhole"), "--keep", "Orange spool", "-o", at("back16.png")}));
        QCOMPARE(test::bytesOf(at("out.png")), test::bytesOf(at("back16.png")));
        const auto given = loadPhoto(matte.toStdString());
        const auto back = loadPhoto(at("back.png").toStdString());
        for (int x = 0; x < given->width; x += 3)
            QVERIFY(test::codeAt(*back, x, 800, 0) >= test::codeAt(*given, x, 800, 0));
        QCOMPARE(run({"apply", test::demo("spools.jpg"), "--take", take, "-o", at("n.png"),
                      "--mask-of", "No such keep", matte})
                     .code,
                 3);
    }

    void everyFailureHasItsCode_data()
    {
        QTest::addColumn<QStringList>("arguments");
        QTest::addColumn<int>("code");
        QTest::addColumn<QString>("kind");
        const QString photo = test::demo("loom.jpg");
        test::writeFile(at("text.jpg"), "open day", 8);
        test::writeFile(at("empty.jpg"), "", 0);
        const auto jpeg = test::bytesOf(photo);
        test::writeFile(at("cut.jpg"), jpeg.data(), jpeg.size() / 4);
        test::writeFile(at("bad.json"), "{", 1);
        test::writeFile(at("other.json"), "{}", 2);
        test::writeFile(at("bad.buttonhole"), "mill", 4);
        QTest::newRow("missing") << QStringList{"info", at("nowhere.jpg")} << 3 << "not-found";
        QTest::newRow("text") << QStringList{"info", at("text.jpg")} << 4 << "not-a-photo";
        QTest::newRow("empty") << QStringList{"info", at("empty.jpg")} << 4 << "damaged";
        QTest::newRow("cut off") << QStringList{"render", at("cut.jpg"), "-o", at("x.jpg")} << 4
                                 << "damaged";
        QTest::newRow("broken work") << QStringList{"info", at("bad.buttonhole")} << 4 << "damaged";
        QTest::newRow("a folder") << QStringList{"info", m_folder.path()} << 4 << "not-a-photo";
        QTest::newRow("unknown format")
            << QStringList{"render", photo, "-o", at("x.gif")} << 2 << "invalid-argument";
        QTest::newRow("16-bit JPEG")
            << QStringList{"render", photo, "-o", at("x.jpg"), "--bits", "16"} << 2
            << "invalid-argument";
        QTest::newRow("no such folder")
            << QStringList{"render", photo, "-o", at("no/x.jpg")} << 3 << "not-found";
        QTest::newRow("unknown take")
            << QStringList{"render", photo, "-o", at("x.jpg"), "--take", "Nope"} << 3
            << "not-found";
        QTest::newRow("unknown keep")
            << QStringList{"mask", photo, "-o", at("x.png"), "--keep", "Nope"} << 3 << "not-found";
        QTest::newRow("take is no JSON")
            << QStringList{"apply", photo, "--take", at("bad.json"), "-o", at("x.jpg")} << 4
            << "damaged";
        QTest::newRow("take of another kind")
            << QStringList{"apply", photo, "--take", at("other.json"), "-o", at("x.jpg")} << 4
            << "bad-value";
        QTest::newRow("nothing to write")
            << QStringList{"apply", photo, "--take", at("bad.json")} << 2 << "invalid-argument";
        QTest::newRow("unknown option")
            << QStringList{"info", photo, "--loupe"} << 2 << "invalid-argument";
        QTest::newRow("no command") << QStringList{} << 2 << "invalid-argument";
    }
    void everyFailureHasItsCode()
    {
        QFETCH(QStringList, arguments);
        QFETCH(int, code);
        QFETCH(QString, kind);
        const Answer plain = run(arguments);
        QCOMPARE(plain.code, code);
        QVERIFY(plain.out.isEmpty());
        QVERIFY(!plain.err.isEmpty());
        const Answer answer = run(QStringList{"--json"} + arguments);
        QCOMPARE(answer.code, code);
        const json error = parsed(answer.err);
        QVERIFY2(error.is_object(), answer.err.constData());
        QCOMPARE(QString::fromStdString(error.at("error").get<std::string>()), kind);
        QVERIFY(!error.at("message").get<std::string>().empty());
        QVERIFY(!QFile::exists(at("x.jpg")));
    }

    void readOnlyFoldersAreSaid()
    {
        // As root every folder is writable; a read-only file system is not.
        const Answer answer =
            run({"--json", "render", test::demo("loom.jpg"), "-o", "/proc/x.jpg"});
        QVERIFY(answer.code == 3 || answer.code == 5);
        QVERIFY(parsed(answer.err).at("message").get<std::string>().find("/proc/x.jpg") !=
                std::string::npos);
    }

    void theMovedPhotoCanBePointedTo()
    {
        const QString take = writeTake("take3.json");
        QVERIFY(QFile::copy(test::demo("spools.jpg"), at("own.jpg")));
        SUCCEEDS(run({"apply", at("own.jpg"), "--take", take, "--save", at("own.buttonhole")}));
        QDir().mkpath(at("away/far"));
        QVERIFY(QFile::rename(at("own.jpg"), at("away/far/else.jpg")));
        const Answer missing =
            run({"--json", "render", at("own.buttonhole"), "-o", at("moved.jpg")});
        QCOMPARE(missing.code, 3);
        QCOMPARE(parsed(missing.err).at("error").dump(), json("photo-missing").dump());
        SUCCEEDS(run({"render", at("own.buttonhole"), "--photo", at("away/far/else.jpg"), "-o",
                      at("moved.jpg")}));
    }

    void helpAndVersion()
    {
        const Answer help = run({"--help"});
        SUCCEEDS(help);
        for (const char *command : {"info", "render", "mask", "apply"})
            QVERIFY(help.out.contains(command));
        for (const char *command : {"info", "render", "mask", "apply"})
            SUCCEEDS(run({command, "--help"}));
        SUCCEEDS(run({"--version"}));
    }

    void noProgressWhereNobodyLooks()
    {
        const Answer answer = run({"render", test::demo("loom.jpg"), "-o", at("quiet.jpg")});
        QVERIFY(!answer.err.contains('\r'));
        QVERIFY(!answer.err.contains('%'));
    }
};

BUTTONHOLE_TEST(TstCli)

#include "tst_cli.moc"

#include "colour/oklab.h"
#include "document/finish_starts.h"
#include "document/set_param.h"
#include "document/take_json.h"
#include "export/export.h"
#include "export/signed_mount.h"
#include "io/file.h"
#include "io/jpeg.h"
#include "io/png.h"
#include "registry.h"
#include "samples.h"

#include <nlohmann/json.hpp>

#include <QTemporaryDir>

#include <cmath>

using namespace buttonhole;

namespace
{

/// A made-up mark: a red disc on nothing, twice as wide as high.
const std::string kMark = "<svg xmlns=\"http://www.w3.org/2000/svg\" width=\"200\" height=\"100\">"
                          "<circle cx=\"150\" cy=\"50\" r=\"45\" fill=\"#c02020\"/></svg>";

Take signedTake(SignatureWords words, const std::vector<std::string> &sets = {})
{
    Take take = withSignature(makeTake(), std::move(words));
    for (const std::string &set : sets)
        take = *withParam(std::move(take), "finish.signature." + set);
    return take;
}

/// How much of a signed mount is inked, by its pixels.
struct Inked {
    double x = 0; ///< its middle
    double y = 0;
    double area = 0; ///< px of the picture
    double x0 = 1e9; ///< all that has ink
    double x1 = -1e9;
};

Inked inkOf(const Mount &mount, double step)
{
    Inked out;
    const int n = int(std::ceil(mount.width() / step));
    std::vector<MountPixel> row(static_cast<size_t>(n));
    for (double y = 0; y < mount.height(); y += step) {
        mount.row(0, y, step, n, row.data());
        for (int i = 0; i < n; ++i) {
            const double ink = 1 - double(row[size_t(i)].keep);
            if (ink <= 0)
                continue;
            const double x = (i + 0.5) * step;
            out.area += ink;
            out.x += ink * x;
            out.y += ink * (y + 0.5 * step);
            if (ink > 0.3) {
                out.x0 = std::min(out.x0, x);
                out.x1 = std::max(out.x1, x);
            }
        }
    }
    out.x /= out.area;
    out.y /= out.area;
    out.area *= step * step;
    return out;
}

Mount mountOf(const Take &take, int width = 600, int height = 400)
{
    Mount out(take, width, height, OutputColour(Profile::srgb()));
    const auto done = out.sign();
    Q_ASSERT(done);
    return out;
}

} // namespace

class TstSignature : public QObject
{
    Q_OBJECT
private Q_SLOTS:
    void liesWhereItIsAskedTo_data()
    {
        QTest::addColumn<float>("across");
        QTest::addColumn<float>("down");
        for (const float across : {0.0F, 0.5F, 1.0F})
            for (const float down : {0.0F, 0.5F, 1.0F})
                QTest::addRow("%.1f %.1f", double(across), double(down)) << across << down;
    }
    void liesWhereItIsAskedTo()
    {
        QFETCH(float, across);
        QFETCH(float, down);
        const Take take =
            signedTake({"Fernhollow Mill", "Inter", {}},
                       {"across=" + std::to_string(across), "down=" + std::to_string(down)});
        const Mount mount = mountOf(take);
        const Stamp &stamp = *mount.stamp();
        const int inset = 12; // 0.03 of 400
        QVERIFY(std::abs(stamp.x0() -
                         (inset + double(across) * (576 - (stamp.x1() - stamp.x0())))) <= 1);
        QVERIFY(std::abs(stamp.y0() - (inset + double(down) * (376 - (stamp.y1() - stamp.y0())))) <=
                1);
        const Inked ink = inkOf(mount, 1);
        QVERIFY(ink.x > stamp.x0() && ink.x < stamp.x1());
        QVERIFY(ink.y > stamp.y0() && ink.y < stamp.y1());
        QVERIFY(ink.x0 - stamp.x0() < 3 && stamp.x1() - ink.x1 < 3); // as wide as it says
    }

    void isTheSameAtEveryScale()
    {
        const Mount mount =
            mountOf(signedTake({"Fernhollow Mill", "Inter Bold", {}}, {"size=0.1"}));
        const Inked own = inkOf(mount, 1);
        QVERIFY(own.area > 1000);
        for (const double step : {2.0, 3.3, 0.5}) {
            const Inked other = inkOf(mount, step);
            QVERIFY2(std::abs(other.area / own.area - 1) < 0.04,
                     qPrintable(QString::number(other.area / own.area)));
            QVERIFY(std::hypot(other.x - own.x, other.y - own.y) < 1);
        }
    }

    void textGrowsWithItsSizeAndStaysInside()
    {
        const auto widthOf = [](const char *size) {
            const Mount mount = mountOf(signedTake({"Fernhollow Mill", "Inter", {}}, {size}));
            return double(mount.stamp()->x1() - mount.stamp()->x0());
        };
        QVERIFY(std::abs(widthOf("size=0.06") / widthOf("size=0.03") - 2) < 0.05);
        QVERIFY(std::abs(widthOf("size=0.5") - 576) <= 1); // as wide as fits
    }

    void drawingKeepsItsColoursOrTakesInk()
    {
        const std::vector<std::string> place{"size=0.4", "across=0", "down=0", "inset=0",
                                             "opacity=1"};
        const auto middleOf = [&](std::vector<std::string> sets) {
            sets.insert(sets.begin(), place.begin(), place.end());
            const Mount mount = mountOf(signedTake({{}, {}, kMark}, sets));
            MountPixel pixel;
            mount.row(240, 80, 1, 1, &pixel); // of its disc
            return pixel;
        };
        const MountPixel own = middleOf({"ownColours=1"});
        QCOMPARE(own.keep, 0.0F);
        QVERIFY(std::abs(own.add[0] - 0xC0 / 255.0F) < 0.01F);
        QVERIFY(std::abs(own.add[1] - 0x20 / 255.0F) < 0.01F);
        const MountPixel ink = middleOf({"byGround=0", "lightness=1"});
        QVERIFY(ink.add[0] > 0.99F && ink.add[1] > 0.99F && ink.add[2] > 0.99F);
        const Mount mount = mountOf(signedTake({{}, {}, kMark}, place));
        MountPixel beside;
        mount.row(40, 80, 1, 1, &beside); // where nothing is drawn
        QCOMPARE(beside.keep, 1.0F);
    }

    void inkStandsOutFromTheGround()
    {
        // Left half white, right half black.
        const auto levels = test::levelsOf(600, 400, [](int x, int) {
            return x < 300 ? std::array{250, 250, 250} : std::array{8, 8, 8};
        });
        const auto inkAt = [&](const char *across) {
            const Take take = signedTake({"Mill", "Inter", {}}, {across, "size=0.2", "opacity=1"});
            const auto mount = signedMount(*levels, take, 600, 400, OutputColour(Profile::srgb()));
            Q_ASSERT(mount);
            float most = 0;
            float ink = 0;
            std::vector<MountPixel> row(600);
            for (int y = 0; y < 400; ++y) {
                mount->row(0, y, 1, 600, row.data());
                for (const MountPixel &pixel : row)
                    if (1 - pixel.keep > most) {
                        most = 1 - pixel.keep;
                        ink = pixel.add[0];
                    }
            }
            return ink;
        };
        QVERIFY(inkAt("across=0") < 0.2F);
        QVERIFY(inkAt("across=1") > 0.9F);
    }

    void isExportedWithThePicture()
    {
        QTemporaryDir folder;
        const auto levels = test::levelsOf(500, 300, [](int, int) {
            return std::array{60, 60, 60};
        });
        const auto exported = [&](const Take &take, const char *name) {
            ExportSettings settings;
            settings.format = ExportSettings::Format::Png;
            const std::string path = folder.filePath(QLatin1String(name)).toStdString();
            const auto done = exportPicture(*levels, take, settings, path);
            Q_ASSERT(done);
            return std::get<Image<uint8_t>>(decodePng(*readFile(path), path, {})->pixels).clone();
        };
        const auto plain = exported(makeTake(), "plain.png");
        const Take take = signedTake({"Fernhollow Mill", "Inter", {}}, {"size=0.1", "opacity=1"});
        const auto inked = exported(take, "signed.png");
        const Stamp stamp = *mountOf(take, 500, 300).stamp();
        int changed = 0;
        int lightest = 0;
        for (int y = 0; y < 300; ++y)
            for (int x = 0; x < 500; ++x) {
                const bool isInside =
                    x >= stamp.x0() && x < stamp.x1() && y >= stamp.y0() && y < stamp.y1();
                const bool isSame =
                    std::equal(plain.pixel(x, y), plain.pixel(x, y) + 3, inked.pixel(x, y));
                QVERIFY(isSame || isInside);
                changed += !isSame;
                lightest = std::max<int>(lightest, inked.pixel(x, y)[0]);
            }
        QVERIFY(changed > 500);
        QVERIFY(lightest > 240);
    }

    void isWrittenAndReadAgain()
    {
        const Take take = signedTake({"© Fernhollow", "Inter Bold", kMark}, {"inset=-0.05"});
        nlohmann::json out;
        const AdjustmentRef &made = take.finish.at(0).adjustment;
        adjustmentToJson(out, *made);
        std::vector<std::string> notes;
        const auto read = adjustmentFromJson(out, notes);
        QVERIFY(read);
        QCOMPARE((*read)->content(), made->content());
        const auto *signature = dynamic_cast<const Signature *>(read->get());
        QVERIFY(signature);
        QCOMPARE(signature->words().drawing, kMark);
        QCOMPARE(signature->place().inset, -0.05F);
    }

    void badWordsAreRefused()
    {
        const auto detailOf = [](const nlohmann::json &members) {
            nlohmann::json in = members;
            in["kind"] = "signature";
            std::vector<std::string> notes;
            const auto read = adjustmentFromJson(in, notes);
            return read ? std::string() : read.error().subject;
        };
        QCOMPARE(detailOf({{"text", std::string(201, 'x')}}), std::string("text"));
        QCOMPARE(detailOf({{"text", "two\nlines"}}), std::string("text"));
        QCOMPARE(detailOf({{"drawing", "no base64!"}}), std::string("drawing"));
        QCOMPARE(detailOf({{"size", 7}}), std::string("size"));
        QCOMPARE(detailOf({{"text", "Mill"}}), std::string());
    }

    void brokenDrawingsFailWithWords()
    {
        for (const std::string &bytes :
             {std::string("no drawing"), std::string("\x89PNG\r\n\x1a\n"), kMark.substr(0, 90),
              std::string("<svg xmlns=\"http://www.w3.org/2000/svg\"/>")}) {
            Mount mount(signedTake({{}, {}, bytes}), 300, 200, OutputColour(Profile::srgb()));
            const auto done = mount.sign();
            QVERIFY2(!done, bytes.c_str());
            QVERIFY(sentence(done.error()).find("signature") != std::string::npos);
        }
    }

    /// What crashes the library that draws, or would never end, harms nothing but itself.
    void hostileDrawingsFailAlone()
    {
        const std::string head = "<svg xmlns=\"http://www.w3.org/2000/svg\""
                                 " xmlns:xlink=\"http://www.w3.org/1999/xlink\""
                                 " width=\"100\" height=\"60\">";
        std::string uses = head + "<defs><g id=\"u0\"><rect width=\"1\" height=\"1\"/></g>";
        for (int i = 1; i < 12; ++i) {
            uses += "<g id=\"u" + std::to_string(i) + "\">";
            for (int k = 0; k < 30; ++k)
                uses += "<use xlink:href=\"#u" + std::to_string(i - 1) + "\"/>";
            uses += "</g>";
        }
        uses += "</defs><use xlink:href=\"#u11\"/></svg>";
        std::string turbulence = head + "<filter id=\"f\">";
        for (int i = 0; i < 12000; ++i)
            turbulence += "<feTurbulence baseFrequency=\"0.5\" numOctaves=\"60\"/>";
        turbulence += "</filter><rect width=\"100\" height=\"60\" filter=\"url(#f)\"/></svg>";
        const std::string text =
            head + "<text font-size=\"1e9\" x=\"0\" y=\"50\">Huge</text></svg>";
        for (const std::string &bytes : {test::hostileDrawing(), uses, turbulence, text}) {
            const bool mayBeDrawn = bytes == text;
            QVERIFY(bytes.size() < Signature::kMostDrawing);
            Mount mount(signedTake({{}, {}, bytes}), 300, 200, OutputColour(Profile::srgb()));
            QVERIFY(mount.sign());
            const auto first = mount.stamp()->drawAt(1);
            const auto second = mount.stamp()->drawAt(2); // at once
            QVERIFY(first ? bool(second) : second.error().kind == ErrorKind::BadValue);
            QVERIFY(mayBeDrawn || !first);
        }
    }

    void drawingsLookAtNoOtherFile()
    {
        QTemporaryDir folder;
        const std::string file = folder.filePath(QStringLiteral("dark.png")).toStdString();
        const auto bytes = encodeGreyPng(Image<uint16_t>(8, 8, 1));
        QFile dark(QString::fromStdString(file));
        QVERIFY(dark.open(QIODevice::WriteOnly));
        dark.write(reinterpret_cast<const char *>(bytes->data()), qint64(bytes->size()));
        dark.close();
        const std::string asking =
            "<svg xmlns=\"http://www.w3.org/2000/svg\" xmlns:xlink=\"http://www.w3.org/1999/xlink\""
            " width=\"100\" height=\"100\"><image xlink:href=\"file://" +
            file + "\" width=\"100\" height=\"100\"/></svg>";
        const Mount mount = mountOf(signedTake({{}, {}, asking}, {"size=0.4"}));
        QVERIFY(!(inkOf(mount, 1).area > 0));
    }
};

BUTTONHOLE_TEST(TstSignature)
#include "tst_signature.moc"

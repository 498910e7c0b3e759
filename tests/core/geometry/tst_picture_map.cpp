#include "geometry/picture_map.h"

#include "document/take_json.h"
#include "registry.h"
#include "samples.h"

#include <nlohmann/json.hpp>

using namespace buttonhole;
using nlohmann::json;

namespace
{

/// Every way that a picture can lie.
std::vector<Geometry> allWays(const Rect &crop = {})
{
    std::vector<Geometry> out;
    for (const bool isMirrored : {false, true})
        for (int turns = 0; turns < 4; ++turns)
            out.push_back({crop, isMirrored, turns});
    return out;
}

} // namespace

/// Photo space and picture space.
class TstPictureMap : public QObject
{
    Q_OBJECT

    static Result<Take> read(const std::string &geometry, std::vector<std::string> *notes = nullptr)
    {
        std::vector<std::string> own;
        return takeFromText(R"({"format": "buttonhole-take", "geometry": )" + geometry + "}", 300,
                            200, "take.json", notes ? *notes : own);
    }

private Q_SLOTS:
    void cornersGoWhereAHandWouldPutThem()
    {
        // The photo's left top pixel of three by two, after each turn clockwise.
        const std::array<int, 2> corners[2][4] = {{{0, 0}, {1, 0}, {2, 1}, {0, 2}},
                                                  {{2, 0}, {1, 2}, {0, 1}, {0, 0}}};
        for (const Geometry &way : allWays()) {
            const PictureMap map(way, 3, 2);
            const PictureRect picture = map.rect();
            const bool lies = way.quarterTurns % 2 == 0;
            QCOMPARE(picture.width(), lies ? 3 : 2);
            QCOMPARE(picture.height(), lies ? 2 : 3);
            auto [x, y] = map.pixelAt(0, 0);
            x -= picture.x0, y -= picture.y0;
            QCOMPARE((std::array{x, y}), corners[way.isMirrored ? 1 : 0][way.quarterTurns]);
        }
    }

    void rectanglesAndPlacesGoThereAndBackAtEveryLevel()
    {
        const Rect crop{301, 77, 1024, 998};
        for (const Geometry &way : allWays(crop)) {
            const PictureMap map(way, 1501, 1003);
            for (int level = 0; level <= kMaxLevel; ++level) {
                const Rect part = atLevel(Rect{400, 100, 777, 512}, level);
                const PictureRect there = map.toPicture(part, level);
                QCOMPARE(map.toPhoto(there, level), part);
                QCOMPARE(there.area(), part.area());
                // Every level is the one before, halved: pixels do not slide.
                QCOMPARE(map.rect(level), atLevel(map.rect(), level));
            }
            const auto [x, y] = map.toPhoto(map.toPicture(812.25, 333.5));
            QVERIFY(std::abs(x - 812.25) < 1e-9 && std::abs(y - 333.5) < 1e-9);
            // A pixel's middle lies in the pixel that it becomes.
            const PicturePoint middle = map.toPicture(400.5, 100.5);
            QCOMPARE((std::array{int(middle.x), int(middle.y)}), map.pixelAt(400, 100));
            const auto [dx, dy] = map.stepAlongRow();
            const auto [u, v] = map.pixelAt(400, 100);
            QCOMPARE((std::array{u + dx, v + dy}), map.pixelAt(401, 100));
        }
    }

    void aPlainPictureIsThePhoto()
    {
        QVERIFY(PictureMap(Geometry(), 300, 200).isPlain());
        QVERIFY(PictureMap({{0, 0, 300, 200}, false, 0}, 300, 200).isPlain());
        QVERIFY(!PictureMap({{0, 0, 299, 200}, false, 0}, 300, 200).isPlain());
        QVERIFY(!PictureMap({{}, true, 0}, 300, 200).isPlain());
        // A crop from a larger photo is cut; one that lies beside is none.
        QCOMPARE(PictureMap({{200, 100, 900, 900}, false, 0}, 300, 200).cropRect(),
                 (Rect{200, 100, 300, 200}));
        QVERIFY(PictureMap({{400, 100, 900, 900}, false, 0}, 300, 200).isPlain());
    }

    void filesBringItAndOlderReadersAreTold()
    {
        const auto take = read(R"({"crop": {"x": 10, "y": 20, "width": 100, "height": 50},
                                   "mirrored": true, "quarterTurns": 3, "tilt": 2.5})");
        QVERIFY(take);
        QCOMPARE(take->geometry, (Geometry{{10, 20, 110, 70}, true, 3}));
        const json out = takeToJson(*take, nullptr);
        QCOMPARE(out.at("readableFrom").get<int>(), 8);
        QCOMPARE(out.at("geometry").at("tilt").get<double>(), 2.5); // of a newer version
        const auto again = read(out.at("geometry").dump());
        QVERIFY(again);
        QCOMPARE(again->geometry, take->geometry);
        QVERIFY(!takeToJson(makeTake(), nullptr).contains("geometry"));
    }

    void aCropThatDoesNotFitIsKeptAndSaid()
    {
        std::vector<std::string> notes;
        const auto take =
            read(R"({"crop": {"x": 250, "y": 0, "width": 100, "height": 50}})", &notes);
        QVERIFY(take);
        QCOMPARE(take->geometry.crop, (Rect{250, 0, 350, 50}));
        QCOMPARE(notes.size(), size_t(1));
        QVERIFY(read(R"({"crop": {"x": 300, "y": 0, "width": 10, "height": 5}})", &notes));
        QCOMPARE(notes.size(), size_t(2));
    }

    void whatCannotBeIsRefusedByName()
    {
        for (const char *bad :
             {R"({"crop": {"x": 0, "y": 0, "width": 0, "height": 0}})",
              R"({"crop": {"x": -1, "y": 0, "width": 5, "height": 5}})",
              R"({"crop": {"x": 1, "y": 0, "width": 5, "height": 1e51}})",
              R"({"crop": {"x": 1, "y": 0, "width": 99999999999, "height": 5}})",
              R"({"crop": {"x": 1, "y": 0, "width": 5}})", R"({"crop": [1, 2, 3, 4]})",
              R"({"quarterTurns": 4})", R"({"quarterTurns": -1})", R"({"quarterTurns": 1.5})",
              R"({"mirrored": 1})", R"([])"}) {
            const auto take = read(bad);
            QVERIFY2(!take, bad);
            QVERIFY2(take.error().kind == ErrorKind::BadValue, bad);
        }
        const auto take = read(R"({"quarterTurns": 7})");
        QVERIFY(!take && take.error().detail.find("geometry.quarterTurns") != std::string::npos);
    }
};

BUTTONHOLE_TEST(TstPictureMap)

#include "tst_picture_map.moc"

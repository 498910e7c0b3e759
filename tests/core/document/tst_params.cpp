#include "base/param_json.h"
#include "document/grey_json.h"
#include "document/take_json.h"
#include "mask/colour_window.h"
#include "mask/fade_step.h"
#include "mask/match_step.h"
#include "mask/region_step.h"
#include "mask/stroke.h"
#include "mask/tone_window.h"
#include "registry.h"
#include "samples.h"

#include <nlohmann/json.hpp>

#include <QFile>
#include <QTest>

#include <set>

using namespace buttonhole;
using nlohmann::json;

/// Every number that is told in a table: none may be forgotten anywhere that goes by it.
class TstParams : public QObject
{
    Q_OBJECT

    /// In range and not the default.
    template <class T>
    static float another(const Param<T> &row)
    {
        const float middle = (row.least + row.most) / 2;
        const float other = row.least + (row.most - row.least) * 0.37F;
        return row.initial() == other ? middle : other;
    }
    static Result<Take> read(const json &in)
    {
        std::vector<std::string> notes;
        return takeFromText(in.dump(), 64, 48, "take", notes);
    }
    /// Ids are named once; what a slider shows lies within what may be stored.
    template <class T>
    static void checkRows(std::span<const Param<T>> rows)
    {
        std::set<std::string> ids;
        for (const Param<T> &row : rows) {
            QVERIFY2(ids.insert(row.id).second, row.id);
            QVERIFY2(row.least < row.most, row.id);
            QVERIFY2(row.initial() >= row.least && row.initial() <= row.most, row.id);
            QVERIFY2(row.leastShown() >= row.least && row.mostShown() <= row.most, row.id);
            QVERIFY2(row.initial() >= row.leastShown() && row.initial() <= row.mostShown(), row.id);
            QVERIFY2(row.since >= 1 && row.since <= kTakeVersion, row.id);
        }
    }
    static QString format()
    {
        QFile file(QStringLiteral(BUTTONHOLE_SOURCE "/docs/format.md"));
        return file.open(QFile::ReadOnly) ? QString::fromUtf8(file.readAll()) : QString();
    }

private Q_SLOTS:
    void rowsAreWellFormed()
    {
        checkRows(keepParams());
        checkRows(greyParams());
        checkRows(toneRangeParams());
        checkRows(colourRangeParams());
        checkRows(matchParams());
        checkRows(fadeParams());
        checkRows(tipParams());
        checkRows(regionAskParams());
        checkRows(regionMarkParams());
    }

    void aKeepsNumbersSurviveAndAreBounded()
    {
        for (const Param<Keep> &row : keepParams()) {
            Take take = makeTake();
            row.of(take.keeps[0]) = another(row);
            const json out = takeToJson(take, nullptr);
            QVERIFY2(out.at("readableFrom") == row.since, row.id);
            const auto back = read(out);
            QVERIFY2(back, row.id);
            QCOMPARE(row.get(back->keeps[0]), row.get(take.keeps[0]));
            for (const Param<Keep> &other : keepParams())
                QVERIFY2(&other == &row || other.isOff(back->keeps[0]), other.id);
            for (const json &wrong : {json(row.most * 2 + 1), json("much"), json(nullptr)}) {
                json bad = out;
                *memberAt(bad["keeps"][0], row.id) = wrong;
                const auto refused = read(bad);
                QVERIFY2(!refused && refused.error().detail.find(row.id) != std::string::npos,
                         row.id);
            }
        }
    }

    void theGreysNumbersSurviveAndCount()
    {
        std::vector<std::string> notes;
        for (const Param<GreyMix> &row : greyParams()) {
            GreyMix mix;
            mix.base = GreyMix::Base::Blend; // where the blend counts
            mix.keepsTotal = false;
            mix.glass = Glass::Red;
            const uint64_t before = mix.content();
            row.of(mix) = another(row);
            QVERIFY2(mix.content() != before, row.id);
            const json out = greyToJson(mix);
            const auto back = greyFromJson(out, notes);
            QVERIFY2(back && *back == mix, row.id);
            json bad = out;
            *memberAt(bad, row.id) = row.least - 1000;
            const auto refused = greyFromJson(bad, notes);
            QVERIFY2(!refused && refused.error().subject == std::string("grey.") + row.id, row.id);
        }
        QVERIFY(notes.empty());
    }

    void stepsNumbersSurviveAndAreBounded()
    {
        const auto walk = [](const auto rows, const json &step, const std::string &place) {
            for (const auto &row : rows) {
                json in = step;
                json &part = place.empty() ? in : in[place];
                *memberAt(part, row.id) = another(row);
                json keeps = {{{"steps", {in}}}};
                const json take{{"format", "buttonhole-take"}, {"keeps", keeps}};
                const auto back = read(take);
                QVERIFY2(back, row.id);
                const json out = takeToJson(*back, nullptr)["keeps"][0]["steps"][0];
                const json *now = findMember(place.empty() ? out : out.at(place), row.id);
                QVERIFY2(now && now->get<float>() == another(row), row.id);
                *memberAt(part, row.id) = row.most * 2 + 1;
                const auto refused = read(
                    {{"format", "buttonhole-take"}, {"keeps", {{{"steps", json::array({in})}}}}});
                QVERIFY2(!refused, row.id);
                const std::string said = refused.error().detail;
                QVERIFY2(said.find(row.id) != std::string::npos, said.c_str());
            }
        };
        walk(toneRangeParams(), {{"kind", "tone-window"}}, "");
        walk(colourRangeParams(), {{"kind", "colour-window"}, {"range", json::object()}}, "range");
        walk(matchParams(), {{"kind", "match"}, {"clicks", json::array()}}, "");
        walk(fadeParams(), {{"kind", "fade"}, {"shape", "round"}, {"from", {1, 1}}, {"to", {9, 9}}},
             "");
        walk(regionAskParams(), {{"kind", "region"}, {"box", {1, 1, 40, 40}}}, "");
    }

    void theFormatTellsThemAll()
    {
        const QString text = format();
        QVERIFY(!text.isEmpty());
        const auto isTold = [&](const char *id) {
            const QString last = QString::fromLatin1(id).section(QLatin1Char('.'), -1);
            return text.contains(QLatin1Char('`') + last + QLatin1Char('`')) ||
                   text.contains(QLatin1Char('"') + last + QLatin1Char('"'));
        };
        for (const auto &row : keepParams())
            QVERIFY2(isTold(row.id), row.id);
        for (const auto &row : greyParams())
            QVERIFY2(isTold(row.id), row.id);
        for (const auto &row : colourRangeParams())
            QVERIFY2(isTold(row.id), row.id);
        for (const auto &row : matchParams())
            QVERIFY2(isTold(row.id), row.id);
        for (const auto &row : fadeParams())
            QVERIFY2(isTold(row.id), row.id);
        for (const auto &row : tipParams())
            QVERIFY2(isTold(row.id), row.id);
    }

    /// Found by fuzzing: to turn such a number into an id is undefined.
    void idsAreWholeNumbers()
    {
        const auto opens = [](const char *text) {
            std::vector<std::string> notes;
            return takeFromText(text, 64, 48, "take", notes).has_value();
        };
        QVERIFY(opens(R"({"format": "buttonhole-take", "nextId": 7, "keeps": [{"id": 3}]})"));
        QVERIFY(!opens(R"({"format": "buttonhole-take", "nextId": 2.5e112})"));
        QVERIFY(!opens(R"({"format": "buttonhole-take", "keeps": [{"id": 1e112}]})"));
    }

    void dottedIdsNameMembersOfMembers()
    {
        json in = {{"tone", {{"black", 0.1}}}, {"flat", 3}};
        QVERIFY(*findMember(in, "tone.black") == 0.1);
        QVERIFY(!findMember(in, "tone.white"));
        QVERIFY(!findMember(in, "flat.black"));
        *memberAt(in, "tone.white") = 0.9;
        QVERIFY(in["tone"]["white"] == 0.9);
        QVERIFY(!memberAt(in, "flat.black"));
    }
};

BUTTONHOLE_TEST(TstParams)

#include "tst_params.moc"

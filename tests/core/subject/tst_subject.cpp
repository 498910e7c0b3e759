#include "mask/outline_step.h"
#include "mask/region_step.h"
#include "nets/nets.h"
#include "subject/click_sizes.h"
#include "subject/crop_ideas.h"
#include "subject/focus.h"
#include "subject/found_subjects.h"
#include "subject/net_picture.h"
#include "subject/salient.h"
#include "subject/subject_solver.h"

#include "registry.h"
#include "samples.h"

#include <nlohmann/json.hpp>

#include <QFile>
#include <QTemporaryDir>

using namespace buttonhole;

namespace
{

/// Freely licensed photographs that Debian's python3-skimage brings.
std::shared_ptr<const PhotoLevels> photograph(const char *name)
{
    const auto levels =
        PhotoLevels::load(std::string("/usr/lib/python3/dist-packages/skimage/data/") + name);
    return levels ? *levels : nullptr;
}

const FoundSubject *first(const std::vector<FoundSubject> &found, SubjectGroup group)
{
    const auto it = std::find_if(found.begin(), found.end(),
                                 [&](const FoundSubject &f) { return f.group == group; });
    return it == found.end() ? nullptr : &*it;
}

bool holds(const MaskPlane &plane, int x, int y)
{
    return plane.at(x, y) > 32768;
}

using Places = std::initializer_list<std::pair<int, int>>;

/// Which of them are on the wrong side; empty: none.
QString wrongOf(const MaskPlane &plane, Places inside, Places outside)
{
    QString out;
    for (const bool isInside : {true, false})
        for (const auto &[x, y] : isInside ? inside : outside)
            if (holds(plane, x, y) != isInside)
                out += QStringLiteral("%1, %2 ").arg(x).arg(y);
    return out;
}

/// The detector and its words, without the other nets.
void copyDetector(const QTemporaryDir &to)
{
    const QString models = QStringLiteral(BUTTONHOLE_SOURCE "/models/");
    for (const char *name : {"nanodet_g_416.onnx", "coco80.txt"})
        QVERIFY(QFile::copy(models + QLatin1String(name), to.filePath(QLatin1String(name))));
}

} // namespace

class TstSubject : public QObject
{
    Q_OBJECT

    std::shared_ptr<const PhotoLevels> m_person;
    std::vector<FoundSubject> m_found;

    /// The person, so many px high, in a plain photo of 2400 x 1600, from 1500, 900 on.
    std::shared_ptr<const PhotoLevels> farAway(int side) const
    {
        const NetPicture person = readNetPicture(*m_person, m_person->photo().rect(), side);
        return test::levelsOf(2400, 1600, [&](int x, int y) {
            const int px = x - 1500;
            const int py = y - 900;
            if (px < 0 || py < 0 || px >= side || py >= side)
                return std::array{88, 104, 96};
            const uint8_t *rgb = &person.rgb[size_t(py * side + px) * 3];
            return std::array{int(rgb[0]), int(rgb[1]), int(rgb[2])};
        });
    }

private Q_SLOTS:
    void initTestCase()
    {
        m_person = photograph("astronaut.png");
        QVERIFY2(m_person, "python3-skimage is missing");
        auto found = findSubjects(*m_person);
        QVERIFY2(found, found ? "" : sentence(found.error()).c_str());
        m_found = std::move(*found);
    }
    void cleanup() { qunsetenv("BUTTONHOLE_MODELS"); }

    void aPersonAndTheFaceAreFound()
    {
        QCOMPARE(m_found.front().group, SubjectGroup::Main);
        const FoundSubject *person = first(m_found, SubjectGroup::People);
        QVERIFY(person);
        QCOMPARE(person->word, std::string("person"));
        QVERIFY(person->certainty > 0.6F && person->certainty <= 1);
        QVERIFY(person->box.x0 < 30 && person->box.x1 > 300 && person->box.y1 > 480);
        const FoundSubject *face = first(m_found, SubjectGroup::Faces);
        QVERIFY(face && face->ovals.size() == 1);
        QVERIFY(face->box.x0 > 150 && face->box.x1 < 290 && face->box.y1 < 190);
        const FoundSubject *eyes = first(m_found, SubjectGroup::Eyes);
        QVERIFY(eyes && !eyes->ovals.empty());
        QVERIFY(face->box.y0 < eyes->box.y0 && eyes->box.y1 < face->box.y1);
    }

    void aCatIsFoundAndNoPersonBesideIt()
    {
        const auto cat = photograph("chelsea.png");
        const auto found = findSubjects(*cat);
        QVERIFY(found);
        QVERIFY(first(*found, SubjectGroup::Animals));
        QCOMPARE(first(*found, SubjectGroup::Animals)->word, std::string("cat"));
        QVERIFY(!first(*found, SubjectGroup::People));
    }

    /// In the whole photo as the detector sees it this person would be 21 px high.
    void whatIsSmallIsFoundInAPart()
    {
        const auto found = findSubjects(*farAway(120));
        QVERIFY(found);
        const auto isPerson = [](const FoundSubject &f) { return f.group == SubjectGroup::People; };
        QCOMPARE(std::count_if(found->begin(), found->end(), isPerson), 1);
        const Rect box = first(*found, SubjectGroup::People)->box;
        QVERIFY(box.x0 > 1480 && box.x1 < 1640 && box.y0 > 880 && box.y1 < 1040);
    }

    /// A fiftieth of the photo's width; in the photo at large as much is taken for one.
    void aSmallFaceIsFoundWithItsPerson()
    {
        const auto found = findSubjects(*farAway(240));
        QVERIFY(found);
        const FoundSubject *face = first(*found, SubjectGroup::Faces);
        QVERIFY(face && face->ovals.size() == 1);
        const Rect &oval = face->ovals.front();
        QVERIFY(oval.x0 < 1603 && oval.x1 > 1610 && oval.y0 < 950 && oval.y1 > 965);
        QVERIFY(oval.width() < 90);
    }

    void foldsOfClothAreNoFace()
    {
        const auto line = PhotoLevels::load(test::demo("washing-line.jpg").toStdString());
        QVERIFY(line);
        const auto found = findSubjects(**line);
        QVERIFY(found);
        QVERIFY(first(*found, SubjectGroup::Main));
        QVERIFY(!first(*found, SubjectGroup::Faces));
    }

    /// By colour alone a person in motley falls apart; what the net knows holds them together.
    void aPersonIsKeptWhole()
    {
        const FoundSubject *person = first(m_found, SubjectGroup::People);
        SubjectReport report;
        const auto plane =
            SubjectSolver().solve(*m_person, {{}, person->box, 0}, {}, {}, 0, &report);
        QVERIFY(plane);
        QVERIFY(report.usedNet);
        QCOMPARE(wrongOf(*plane, {{225, 60}, {220, 130}, {120, 300}, {230, 330}, {100, 470}},
                         {{30, 60}, {400, 60}, {350, 200}, {330, 60}}),
                 QString());
    }

    /// Sooner than the answer, about what it will be; and it changes nothing of that.
    void aClickIsSeenBeforeItIsSettled()
    {
        const RegionAsk click{{{{{120, 300}}, 4, false}}, {}, 0};
        SubjectSolver solver;
        const auto seen = solver.glimpse(*m_person, click, {}, {}, 0);
        QVERIFY(seen && *seen);
        QCOMPARE(wrongOf(**seen, {{120, 300}}, {{400, 60}, {440, 300}}), QString());
        const auto settled = solver.solve(*m_person, click);
        const auto alone = SubjectSolver().solve(*m_person, click);
        QVERIFY(settled && alone && samePixels(*settled, *alone));
        const auto twice = solver.glimpse(*m_person, click, {}, {}, 0);
        QVERIFY(twice && !*twice); // it is known
        const auto box = solver.glimpse(*m_person, {{}, Rect{10, 10, 300, 400}, 0}, {}, {}, 0);
        QVERIFY(box && !*box);
        std::stop_source stop;
        stop.request_stop();
        Run stopped;
        stopped.stop = stop.get_token();
        const auto cancelled = SubjectSolver().glimpse(*m_person, click, {}, stopped, 0);
        QVERIFY(!cancelled);
        QCOMPARE(cancelled.error().kind, ErrorKind::Cancelled);
    }

    /// The smallest thing under the click first; more reach is the next larger one, as far as
    /// there is one; less than none is what colour alone says.
    void aClickMeansOneOfAFewSizes()
    {
        const RegionAsk click{{{{{120, 300}}, 4, false}}, {}, 0};
        SubjectSolver solver;
        SubjectReport report;
        const auto person = solver.solve(*m_person, click, {}, {}, 0, &report);
        QVERIFY(person);
        QVERIFY(report.usedNet);
        QCOMPARE(report.reach, 0.0F);
        QCOMPARE(wrongOf(*person, {{225, 60}, {120, 300}, {100, 470}}, {{400, 60}, {440, 300}}),
                 QString());
        RegionAsk largest = click;
        largest.reach = 1;
        const auto most = solver.solve(*m_person, largest, {}, {}, 0, &report);
        QVERIFY(most);
        QVERIFY(report.reach < 1); // as many sizes as there are
        QVERIFY(test::meanOf(*most) >= test::meanOf(*person));
        largest.reach = report.reach;
        const auto again = SubjectSolver().solve(*m_person, largest);
        QVERIFY(again && samePixels(*again, *most));
        RegionAsk less = click;
        less.reach = -kReachPerSize;
        const auto grown = solver.solve(*m_person, less, {}, {}, 0, &report);
        const auto region = RegionSolver().solve(*m_person, click);
        QVERIFY(grown && region && samePixels(*grown, *region));
        QVERIFY(!report.usedNet);
    }

    /// What stands out is the basket, or all that lies in it; what grows by colour is one ball.
    void aBallInABasketIsTheSmallestThingUnderTheClick()
    {
        const auto basket = PhotoLevels::load(test::demo("wool-basket.jpg").toStdString());
        QVERIFY(basket);
        const auto clicked = [&](PhotoPoint at, float reach) {
            return SubjectSolver().solve(**basket, {{{{at}, 4, false}}, {}, reach}, {}, {}, 1);
        };
        const auto yellow = clicked({850, 700}, 0);
        QVERIFY(yellow);
        QCOMPARE(wrongOf(*yellow, {{700, 700}, {1000, 800}, {850, 560}},
                         {{1050, 400}, {1250, 700}, {900, 1100}, {300, 700}}),
                 QString());
        const auto teal = clicked({1390, 706}, 0);
        QVERIFY(teal);
        QCOMPARE(wrongOf(*teal, {{1250, 700}, {1500, 600}, {1400, 850}},
                         {{1050, 400}, {850, 700}, {900, 1100}, {1720, 640}}),
                 QString());
        const auto larger = clicked({850, 700}, 1);
        QVERIFY(larger && test::meanOf(*larger) > 2 * test::meanOf(*yellow));
    }

    /// By colour a further click would add a band of the other ball.
    void aClickBesideTheFirstThingAddsAnother()
    {
        const auto balls = test::levelsOf(1200, 800, [](int x, int y) {
            const bool isBall = std::hypot(x % 600 - 300, y - 400) < 140;
            const bool isBand = ((x + y) / 70) % 2 == 0;
            const int grain = (x * 7 + y * 13 + x * y) % 11;
            return isBall && isBand ? std::array{190, 40, 50}
                   : isBall         ? std::array{235, 225, 60}
                                    : std::array{118 + grain, 122 + grain, 120 + grain};
        });
        const RegionMark left{{{310, 410}}, 4, false};
        const RegionMark right{{{880, 380}}, 4, false};
        SubjectSolver solver;
        const auto one = solver.solve(*balls, {{left}, {}, 0});
        QVERIFY(one);
        QCOMPARE(wrongOf(*one, {{300, 400}, {220, 360}, {380, 450}, {300, 300}},
                         {{900, 400}, {600, 400}}),
                 QString());
        const auto both = solver.solve(*balls, {{left, right}, {}, 0});
        QVERIFY(both);
        QCOMPARE(wrongOf(*both, {{300, 400}, {900, 400}, {820, 360}, {980, 450}, {900, 300}},
                         {{600, 400}, {900, 600}, {1100, 100}}),
                 QString());
        const auto atOnce = SubjectSolver().solve(*balls, {{left, right}, {}, 0});
        QVERIFY(atOnce && samePixels(*atOnce, *both));
        const auto undone = solver.solve(*balls, {{left}, {}, 0});
        QVERIFY(undone && samePixels(*undone, *one));
        const RegionMark leave{{{900, 400}}, 4, true};
        const auto less = solver.solve(*balls, {{left, right, leave}, {}, 0});
        QVERIFY(less && holds(*less, 300, 400) && !holds(*less, 900, 400));
    }

    /// All hold the subject with room, lie in the photo and have the ratio; no two are alike.
    void suggestedCropsHoldTheSubject()
    {
        const auto levels = test::levelsOf(1500, 1000, [](int x, int y) {
            const bool isPole = x > 1180 && x < 1210;
            const int grain = (x * 7 + y * 13) % 9;
            return isPole ? std::array{20, 20, 20} : std::array{150 + grain, 160, 170};
        });
        const Rect subject{500, 400, 760, 700};
        for (const double ratio : {0.0, 1.5, 0.8}) {
            const auto ideas = findCropIdeas(*levels, {subject}, ratio);
            QVERIFY(ideas.size() >= 3 && ideas.size() <= 5);
            for (size_t i = 0; i < ideas.size(); ++i) {
                const Rect &crop = ideas[i];
                QCOMPARE(intersected(crop, levels->photo().rect()), crop);
                QCOMPARE(united(crop, subject), crop);
                QVERIFY(crop.x0 < subject.x0 && crop.x1 > subject.x1 && crop.y0 < subject.y0);
                if (ratio > 0)
                    QVERIFY(std::abs(double(crop.width()) / crop.height() / ratio - 1) < 0.01);
                for (size_t k = 0; k < i; ++k)
                    QVERIFY(likeness(crop, ideas[k]) <= 0.8);
            }
            const Rect &best = ideas.front(); // and cuts no pole
            QVERIFY(std::abs(best.x1 - 1195) > 20 && std::abs(best.x0 - 1195) > 20);
        }
        QVERIFY(findCropIdeas(*levels, {Rect{0, 0, 1490, 990}}, 0).empty()); // no room for any
        QVERIFY(findCropIdeas(*levels, {Rect{0, 0, 1490, 990}, subject}, 0).size() >= 3);
        QVERIFY(findCropIdeas(*levels, {}, 0).empty());
    }

    /// A file may say that anything was found under the click.
    void strangeThingsUnderAClickAreLookedAtWithinThePhoto()
    {
        const RegionAsk click{{{{{120, 300}}, 4, false}}, {}, 0};
        std::vector<Rect> things{{-1000000, -5, 60, 1000000}, {600, 600, 900, 900}, {9, 9, 9, 9}};
        things.resize(5000, {100, 280, 101, 281});
        for (const float reach : {0.0F, 1.0F}) {
            RegionAsk ask = click;
            ask.reach = reach;
            const auto plane = SubjectSolver().solve(*m_person, ask, {{}, {}, {}, things});
            QVERIFY(plane);
            QVERIFY(holds(*plane, 120, 300));
        }
    }

    void sizesGrowAndStop()
    {
        ClickSizes sizes(m_person->photo().rect(), {{120, 300}}, {});
        const auto first = sizes.nth(*m_person, 0, {});
        QVERIFY(first && *first);
        QVERIFY((*first)->isAnswer);
        const auto last = sizes.nth(*m_person, 9, {});
        QVERIFY(last && *last);
        const auto count = sizes.count();
        QVERIFY(count >= 1 && count < 9);
        QVERIFY(*sizes.nth(*m_person, count - 1, {}) == *last);
        QVERIFY(*sizes.nth(*m_person, 0, {}) == *first);
        Run stopped;
        std::stop_source stop;
        stop.request_stop();
        stopped.stop = stop.get_token();
        const auto none =
            ClickSizes(m_person->photo().rect(), {{120, 300}}, {}).nth(*m_person, 0, stopped);
        QVERIFY(!none);
        QCOMPARE(none.error().kind, ErrorKind::Cancelled);
    }

    void aFaceIsKeptByItsShape()
    {
        const FoundSubject *face = first(m_found, SubjectGroup::Faces);
        const auto plane =
            SubjectSolver().solve(*m_person, {{}, face->box, 0}, {{}, face->ovals, {}, {}});
        QVERIFY(plane);
        QVERIFY(holds(*plane, 222, 110) && holds(*plane, 205, 125));
        QVERIFY(!holds(*plane, 225, 20) && !holds(*plane, 222, 220));
    }

    void whatTheNetCannotTellIsNotTrusted()
    {
        // A part of a thing: it goes on all round.
        const auto cloth = PhotoLevels::load(test::demo("washing-line.jpg").toStdString());
        const auto prior = findSalient(**cloth, {800, 600, 1100, 900});
        QVERIFY(prior);
        QVERIFY(!prior->isAnswer);
        const auto person = findSalient(*m_person, first(m_found, SubjectGroup::People)->box);
        QVERIFY(person);
        QVERIFY(person->trust > 0.35F);
    }

    /// What stands out is boxed together, and where it is several things each is offered, too.
    void whatStandsOutIsOfferedTogetherAndSingly()
    {
        const auto two = test::levelsOf(900, 600, [](int x, int y) {
            const bool isDisc = std::hypot(x - 220, y - 300) < 110;
            const bool isBox = std::abs(x - 660) < 100 && std::abs(y - 280) < 130;
            return isDisc  ? std::array{200, 60, 40}
                   : isBox ? std::array{40, 90, 190}
                           : std::array{205, 205, 200};
        });
        const auto found = findSubjects(*two);
        QVERIFY(found);
        std::vector<FoundSubject> main;
        for (const FoundSubject &each : *found)
            if (each.group == SubjectGroup::Main)
                main.push_back(each);
        QCOMPARE(main.size(), size_t(3));
        const auto plane = SubjectSolver().solve(*two, {{}, main[0].box, 0}, {});
        QVERIFY(plane);
        QCOMPARE(wrongOf(*plane, {{220, 300}, {130, 300}, {660, 280}, {580, 170}},
                         {{440, 300}, {30, 30}, {870, 570}}),
                 QString());
        const bool discFirst = main[1].box.x0 < main[2].box.x0;
        const auto disc = SubjectSolver().solve(*two, {{}, main[discFirst ? 1 : 2].box, 0}, {});
        QVERIFY(disc);
        QCOMPARE(wrongOf(*disc, {{220, 300}}, {{660, 280}, {440, 300}}), QString());
    }

    /// Without its net the rest is found, and boxes are solved as before.
    void withoutTheSalientNetTheRestWorks()
    {
        QTemporaryDir folder;
        copyDetector(folder);
        qputenv("BUTTONHOLE_MODELS", folder.path().toUtf8());
        const auto missing = findSalient(*m_person, m_person->photo().rect());
        QVERIFY(!missing);
        QCOMPARE(missing.error().kind, ErrorKind::NotFound);
        const auto found = findSubjects(*m_person);
        QVERIFY(found);
        QVERIFY(first(*found, SubjectGroup::People));
        QCOMPARE(first(*found, SubjectGroup::Main)->box, m_person->photo().rect());
        std::stop_source stop;
        stop.request_stop();
        Run run;
        run.stop = stop.get_token();
        qunsetenv("BUTTONHOLE_MODELS");
        const auto stopped = findSalient(*m_person, m_person->photo().rect(), run);
        QVERIFY(!stopped);
        QCOMPARE(stopped.error().kind, ErrorKind::Cancelled);
    }

    /// The net takes the blurred cushions for foreground as well.
    void aCatIsKeptWithoutTheBlurBehindIt()
    {
        const auto cat = photograph("chelsea.png");
        const auto plane = SubjectSolver().solve(*cat, {{}, cat->photo().rect(), 0}, {});
        QVERIFY(plane);
        QCOMPARE(wrongOf(*plane, {{200, 60}, {175, 110}, {315, 130}, {270, 240}, {60, 200}},
                         {{430, 40}, {400, 140}, {420, 200}, {400, 270}}),
                 QString());
    }

    /// The same colours inside and outside, without the models: only one is sharp.
    void whatIsInFocusStandsOut()
    {
        const auto disc = test::levelsOf(360, 240, [](int x, int y) {
            const unsigned block = unsigned(x / 3) * 7919U + unsigned(y / 3) * 104729U;
            const bool isIn = std::hypot(x - 200, y - 110) < 60;
            const double wave = isIn ? ((block * 2654435761U) >> 16) % 100 / 50.0 - 1
                                     : std::sin(x / 9.0) * std::cos(y / 11.0);
            return std::array{int(120 + 45 * wave), int(110 + 45 * wave), int(100 + 45 * wave)};
        });
        QTemporaryDir none;
        qputenv("BUTTONHOLE_MODELS", none.path().toUtf8());
        const auto plane = SubjectSolver().solve(*disc, {{}, disc->photo().rect(), 0}, {});
        QVERIFY(plane);
        size_t right = 0;
        for (int y = 0; y < 240; ++y)
            for (int x = 0; x < 360; ++x)
                right += holds(*plane, x, y) == (std::hypot(x - 200, y - 110) < 60) ? 1 : 0;
        QVERIFY2(right > 0.95 * 360 * 240, qPrintable(QString::number(right)));
    }

    void aPhotoOfAFewPixelsIsNoTrouble()
    {
        const auto tiny = test::levelsOf(5, 1, [](int x, int) { return std::array{50 * x, 0, 0}; });
        QVERIFY(findFocus(*tiny, tiny->photo().rect()).trust == 0);
        QVERIFY(SubjectSolver().solve(*tiny, {{}, tiny->photo().rect(), 0}, {}));
    }

    void focusIsNotTrustedWhereAllIsSharp()
    {
        for (const char *name : {"spools.jpg", "mill-pond.jpg", "washing-line.jpg"}) {
            const auto levels = PhotoLevels::load(test::demo(name).toStdString());
            QVERIFY(levels);
            QVERIFY2(findFocus(**levels, (*levels)->photo().rect()).trust < 0.1F, name);
        }
        const auto cat = photograph("chelsea.png");
        QVERIFY(findFocus(*cat, cat->photo().rect()).trust > 0.8F);
    }

    void furtherMarksChangeASubject()
    {
        const FoundSubject *person = first(m_found, SubjectGroup::People);
        SubjectSolver solver;
        RegionAsk ask{{}, person->box, 0};
        QVERIFY(solver.solve(*m_person, ask, {}));
        ask.marks.push_back({{{225, 50}}, 6, true}); // the hair
        const auto without = solver.solve(*m_person, ask, {});
        QVERIFY(without);
        QVERIFY(!holds(*without, 225, 50));
        QVERIFY(holds(*without, 120, 300));
    }

    void theStepRemembersWhatWasAsked()
    {
        const FoundSubject *face = first(m_found, SubjectGroup::Faces);
        const SubjectNote note{"face", face->ovals, kModelsVersion, {{10, 20, 300, 400}}};
        const RegionStep step({{{{{222, 110}}, 4, false}}, face->box, 0.25F}, {}, note);
        QCOMPARE(step.kind(), std::string("subject"));
        const auto read = std::dynamic_pointer_cast<const RegionStep>(test::again(step));
        QVERIFY(read);
        QVERIFY(read->note() == std::optional(note));
        QVERIFY(read->ask() == step.ask());
        QCOMPARE(read->facts(), (StepFacts{{"box", 1}, {"marks", 1}}));
    }

    /// The outline is that of what would be kept, and closes along the photo's border.
    void outlinesGoRoundWhatWouldBeKept()
    {
        const FoundSubject *person = first(m_found, SubjectGroup::People);
        const auto lines = outlineOf(*m_person, *person);
        QVERIFY(lines && !lines->empty());
        std::vector<PhotoPoint> longest;
        for (const EdgeLine &line : *lines) {
            QVERIFY(line.isClosed);
            if (line.points.size() <= longest.size())
                continue;
            longest.clear();
            for (const EdgePoint &p : line.points)
                longest.push_back({p.x, p.y});
        }
        const Rect photo = m_person->photo().rect();
        std::vector<uint16_t> inside(photo.area());
        fillPolygon(longest, 0, photo, inside.data());
        const auto plane = SubjectSolver().solve(*m_person, {{}, person->box, 0}, {});
        QVERIFY(plane);
        size_t both = 0;
        size_t either = 0;
        for (int y = 0; y < photo.y1; ++y)
            for (int x = 0; x < photo.x1; ++x) {
                const bool traced = inside[size_t(y) * size_t(photo.x1) + size_t(x)] > 32768;
                both += traced && holds(*plane, x, y) ? 1 : 0;
                either += traced || holds(*plane, x, y) ? 1 : 0;
            }
        QVERIFY2(double(both) > 0.95 * double(either),
                 qPrintable(QStringLiteral("%1 of %2").arg(both).arg(either)));
        std::stop_source stop;
        stop.request_stop();
        Run run;
        run.stop = stop.get_token();
        const auto stopped = outlineOf(*m_person, *person, run);
        QVERIFY(!stopped);
        QCOMPARE(stopped.error().kind, ErrorKind::Cancelled);
    }

    /// Before the net is asked a region's answer stands; afterwards the preview knows it, too.
    void aPreviewIsARegionUntilTheNetIsAsked()
    {
        const FoundSubject *person = first(m_found, SubjectGroup::People);
        const RegionAsk ask{{}, person->box, 0};
        SubjectSolver solver;
        const auto early = solver.preview(*m_person, ask, {}, {}, 1);
        const auto region = RegionSolver().solve(*m_person, ask, {}, 1);
        QVERIFY(early && region && samePixels(*early, *region));
        SubjectReport report;
        const auto exact = solver.solve(*m_person, ask, {}, {}, 0, &report);
        QVERIFY(exact && report.usedNet);
        const auto afresh = SubjectSolver().solve(*m_person, ask, {});
        QVERIFY(afresh && samePixels(*exact, *afresh)); // the preview left no trace
        const auto late = solver.preview(*m_person, ask, {}, {}, 1);
        const auto coarse = SubjectSolver().solve(*m_person, ask, {}, {}, 1);
        QVERIFY(late && coarse && samePixels(*late, *coarse));
    }

    void missingModelsAreSaidAndRegionsStillSolve()
    {
        QTemporaryDir none;
        qputenv("BUTTONHOLE_MODELS", none.path().toUtf8());
        const auto found = findSubjects(*m_person);
        QVERIFY(!found);
        QCOMPARE(found.error().kind, ErrorKind::NotFound);
        QVERIFY(sentence(found.error()).find("nanodet") != std::string::npos);
        SubjectReport report{true, 0, {}};
        const auto plane =
            SubjectSolver().solve(*m_person, {{}, Rect{130, 330, 210, 410}, 0}, {}, {}, 0, &report);
        QVERIFY(plane);
        QVERIFY(!report.usedNet);
        QVERIFY(!plane->isEmpty());
    }

    void damagedModelsAreToldFromWholeOnes()
    {
        QTemporaryDir folder;
        copyDetector(folder);
        QFile model(folder.filePath(QStringLiteral("nanodet_g_416.onnx")));
        model.setPermissions(QFile::ReadOwner | QFile::WriteOwner);
        QVERIFY(model.resize(model.size() / 2));
        qputenv("BUTTONHOLE_MODELS", folder.path().toUtf8());
        const auto found = findSubjects(*m_person);
        QVERIFY(!found);
        QCOMPARE(found.error().kind, ErrorKind::Damaged);
        QVERIFY(found.error().subject.find("nanodet") != std::string::npos);
    }

    void lookingOverCanBeStopped()
    {
        std::stop_source stop;
        stop.request_stop();
        Run run;
        run.stop = stop.get_token();
        const auto found = findSubjects(*m_person, run);
        QVERIFY(!found);
        QCOMPARE(found.error().kind, ErrorKind::Cancelled);
    }
};

BUTTONHOLE_TEST(TstSubject)

#include "tst_subject.moc"

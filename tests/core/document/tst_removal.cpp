#include "document/container.h"
#include "document/history.h"
#include "document/set_param.h"
#include "document/take_json.h"
#include "mask/outline_step.h"
#include "render/render.h"

#include "registry.h"
#include "samples.h"

#include <nlohmann/json.hpp>

#include <QTemporaryDir>

#include <set>
#include <stop_token>

using namespace buttonhole;

/// Things taken out of a photo: filled once, kept with the take.
class TstRemoval : public QObject
{
    Q_OBJECT

    static constexpr int kWidth = 800; // three levels
    static constexpr int kHeight = 600;
    std::shared_ptr<const PhotoLevels> m_levels;
    uint64_t m_id = 0;

    /// A box of the photo as what is to go.
    Take marked(const Rect &box = {180, 120, 220, 160})
    {
        Take take = makeTake();
        take.greyOn = false;
        take.keeps.clear();
        take = withNewRemoval(std::move(take), {}, &m_id);
        return withNewStep(std::move(take), m_id, Sign::Add, boxStep(box));
    }
    static std::shared_ptr<const StepShape> boxStep(const Rect &box)
    {
        Outline line;
        for (const auto &[x, y] :
             {std::pair(box.x0, box.y0), {box.x1, box.y0}, {box.x1, box.y1}, {box.x0, box.y1}}) {
            const PhotoPoint at{float(x), float(y)};
            line.push_back({at, {}, {}});
        }
        return std::make_shared<OutlineStep>(std::vector<Outline>{line});
    }
    Take out(const Take &take)
    {
        const auto made = filled(*m_levels, take, m_id);
        if (!made)
            qFatal("%s", sentence(made.error()).c_str());
        return withRemoval(take, m_id, [&](Removal &each) { each = *made; });
    }
    std::vector<uint16_t> render(const Take &take, int level = 0) const
    {
        const Rect area = m_levels->rectOf(level);
        std::vector<uint16_t> pixels(area.area() * 3);
        const auto done =
            renderPicture(*m_levels, take, View::Result, level, test::asPicture(area),
                          OutputColour(Profile::srgb()),
                          {RenderTarget::Layout::Rgb16, pixels.data(), size_t(area.width()) * 6});
        return done ? pixels : std::vector<uint16_t>();
    }
    static int greenAt(const std::vector<uint16_t> &pixels, int width, int x, int y)
    {
        return pixels[(size_t(y) * size_t(width) + size_t(x)) * 3 + 1];
    }

private Q_SLOTS:
    void initTestCase()
    {
        m_levels = test::levelsOf(kWidth, kHeight, [](int x, int y) {
            const bool isThing = x >= 182 && x < 218 && y >= 122 && y < 158;
            const int grain = int((uint32_t(x) * 73856093u ^ uint32_t(y) * 19349663u) % 5);
            const int v = ((x / 8 + y / 8) % 2 == 0 ? 150 : 170) + grain;
            return isThing ? std::array{20, 20, 20} : std::array{v, v, v};
        });
    }

    void theThingIsGoneAndNothingElseChanges()
    {
        const Take take = marked();
        const auto before = render(take);
        const auto after = render(out(take));
        QCOMPARE(after.size(), before.size());
        for (int y = 0; y < kHeight; ++y)
            for (int x = 0; x < kWidth; ++x) {
                const bool isMarked = x >= 180 && x < 220 && y >= 120 && y < 160;
                const int is = greenAt(after, kWidth, x, y);
                if (isMarked)
                    QVERIFY2(is > 140 * 257 && is < 180 * 257,
                             qPrintable(QStringLiteral("%1 at %2, %3").arg(is).arg(x).arg(y)));
                else
                    QCOMPARE(is, greenAt(before, kWidth, x, y));
            }
        Take off = withRemoval(out(take), m_id, [](Removal &each) { each.on = false; });
        QCOMPARE(render(off), before);
    }

    /// What a coarser level shows is the mean of what the photo's own shows.
    void coarserLevelsAreMeans()
    {
        const Take take = out(marked({181, 121, 219, 159})); // odd borders
        const auto fine = render(take);
        for (const int level : {1, 2}) {
            const int side = 1 << level;
            const auto coarse = render(take, level);
            for (int y = 112; y < 168; y += side)
                for (int x = 176; x < 224; x += side) {
                    double mean = 0;
                    for (int j = 0; j < side; ++j)
                        for (int i = 0; i < side; ++i)
                            mean += greenAt(fine, kWidth, x + i, y + j) / double(side * side);
                    // Means of light, not of codes: within what that makes of two near greys.
                    const int is = greenAt(coarse, kWidth >> level, x / side, y / side);
                    QVERIFY2(std::abs(is - mean) < 300,
                             qPrintable(QStringLiteral("%1 for %2").arg(is).arg(mean)));
                }
        }
    }

    void itIsKeptWithTheWork()
    {
        QTemporaryDir folder;
        const std::string photo = folder.filePath(QStringLiteral("photo.jpg")).toStdString();
        QVERIFY(QFile::copy(test::demo("loom.jpg"), QString::fromStdString(photo)));
        const auto levels = PhotoLevels::load(photo);
        QVERIFY(levels);
        const Take take = marked({700, 500, 740, 530});
        const auto made = filled(**levels, take, m_id);
        QVERIFY(made);
        Container container;
        container.work.takes = {std::make_shared<const Take>(
            withRemoval(take, m_id, [&](Removal &each) { each = *made; }))};
        container.photo = referenceTo((*levels)->photo());
        const std::string file = folder.filePath(QStringLiteral("work.buttonhole")).toStdString();
        QVERIFY(saveContainer(container, file, photo, {}));
        const auto again = loadContainer(file);
        QVERIFY2(again, again ? "" : again.error().detail.c_str());
        const Removal &kept = again->work.takes[0]->removals.front();
        QVERIFY(kept.patch && !kept.isStale());
        QVERIFY(samePixels(kept.patch->where, made->patch->where));
        for (size_t c = 0; c < 3; ++c)
            QVERIFY(samePixels(kept.patch->roots[c], made->patch->roots[c]));
        // One that no longer fits its mask says so, then too.
        Container changed = *again;
        changed.work.takes = {std::make_shared<const Take>(
            withRemoval(*again->work.takes[0], kept.id, [](Removal &each) { each.growPx = 9; }))};
        QVERIFY(changed.work.takes[0]->removals.front().isStale());
        QVERIFY(saveContainer(changed, file, photo, {}));
        const auto stale = loadContainer(file);
        QVERIFY(stale && stale->work.takes[0]->removals.front().isStale());
        // As text it comes without pictures, to be filled anew.
        std::vector<std::string> notes;
        const auto text = takeFromText(takeToJson(*again->work.takes[0], nullptr).dump(), 1800,
                                       1200, "take", notes);
        QVERIFY(text && !text->removals.front().patch);
        QCOMPARE(text->removals.front().steps.size(), size_t(1));
    }

    void anotherTryIsAnotherAnswer()
    {
        const Take take = marked();
        const Take second = withRemoval(take, m_id, [](Removal &each) { each.tries = 1; });
        const auto a = filled(*m_levels, take, m_id);
        const auto b = filled(*m_levels, second, m_id);
        const auto again = filled(*m_levels, take, m_id);
        QVERIFY(a && b && again);
        QVERIFY(samePixels(a->patch->roots[1], again->patch->roots[1]));
        QVERIFY(!samePixels(a->patch->roots[1], b->patch->roots[1]));
    }

    /// A second thing is filled from the photo without the first.
    void removalsGoOnFromEachOther()
    {
        const Take first = out(marked());
        uint64_t beside = 0;
        Take both = withNewRemoval(first, {}, &beside);
        both = withNewStep(std::move(both), beside, Sign::Add, boxStep({224, 118, 262, 162}));
        both = withRemoval(std::move(both), beside, [](Removal &each) {
            each.source = {176, 110, 224, 170}; // hardly more than where the thing was
        });
        const auto made = filled(*m_levels, both, beside);
        QVERIFY2(made, made ? "" : made.error().detail.c_str());
        std::vector<uint16_t> roots = test::pixelsOf(made->patch->roots[1]);
        for (int y = 120; y < 160; ++y)
            for (int x = 226; x < 260; ++x)
                QVERIFY(roots[size_t(y * kWidth + x)] > 65535 / 3); // nothing dark came along
    }

    void whatCannotBeFilledIsSaid()
    {
        Take take = marked();
        QCOMPARE(filled(*m_levels, take, 999).error().kind, ErrorKind::NotFound);
        const Take empty = withoutSteps(take, m_id);
        const auto nothing = filled(*m_levels, empty, m_id);
        QCOMPARE(nothing.error().kind, ErrorKind::InvalidArgument);
        QCOMPARE(nothing.error().subject, std::string("Removal 1"));
        std::stop_source stop;
        stop.request_stop();
        Run run;
        run.stop = stop.get_token();
        QCOMPARE(filled(*m_levels, take, m_id, run).error().kind, ErrorKind::Cancelled);
    }

    void itsNumbersAndStepsAreChangedAsThoseOfKeeps()
    {
        const Take take = marked();
        const auto grown = withParam(take, "removal:Removal 1.growPx=12");
        QVERIFY(grown);
        QCOMPARE(grown->removals[0].growPx, 12.0F);
        QVERIFY(!withParam(take, "removal:Removal 2.growPx=12"));
        const uint64_t step = take.removals[0].steps[0].id;
        Take other = withNewKeep(take, "Spool");
        const uint64_t keep = other.keeps[0].id;
        other = withCopyOfStep(std::move(other), m_id, step, keep);
        QCOMPARE(other.keeps[0].steps.size(), size_t(1));
        other = withStepAt(std::move(other), m_id, step, keep, 0);
        QVERIFY(other.removals[0].steps.empty());
        QCOMPARE(other.keeps[0].steps.size(), size_t(2));
        QVERIFY(withoutRemoval(std::move(other), m_id).removals.empty());
    }

    void brokenOnesAreRefused()
    {
        const auto in = takeToJson(marked(), nullptr);
        const auto refused = [&](const char *member, const nlohmann::json &value) {
            nlohmann::json broken = in;
            broken["removals"][0][member] = value;
            std::vector<std::string> notes;
            return !takeFromText(broken.dump(), kWidth, kHeight, "take", notes);
        };
        QVERIFY(refused("source", {{"x", 3}, {"y", 4}, {"width", 0}, {"height", 9}}));
        QVERIFY(refused("source", 7));
        QVERIFY(refused("patch", {{"where", 3}}));
        QVERIFY(refused("tries", -1));
        QVERIFY(refused("tries", "many"));
    }

    /// What undo holds of patches is part of its budget.
    void patchesCountForUndo()
    {
        const Take take = out(marked());
        History history(makeWork().with(take));
        history.push("Off", makeWork().with(makeTake()));
        history.settle();
        std::set<const TileBlock *> blocks;
        size_t bytes = 0;
        take.removals.front().patch->visitPlanes([&](const MaskPlane &plane) {
            plane.visitBlocks([&](const auto &block) {
                bytes += blocks.insert(block.get()).second ? block->bytes() : 0;
            });
        });
        QVERIFY(bytes > 0);
        QCOMPARE(history.bytes(), bytes);
    }
};

BUTTONHOLE_TEST(TstRemoval)

#include "tst_removal.moc"

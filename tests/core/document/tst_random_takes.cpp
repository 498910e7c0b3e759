#include "document/container.h"
#include "document/history.h"
#include "document/preset.h"
#include "document/take_json.h"
#include "export/export.h"
#include "io/photo.h"
#include "random_take.h"
#include "registry.h"
#include "render/render.h"
#include "sample_files.h"
#include "samples.h"

#include <nlohmann/json.hpp>

#include <QTemporaryDir>

#include <unordered_set>

#include <tbb/global_control.h>
#include <tbb/task_arena.h>

using namespace buttonhole;
using nlohmann::json;

/// What each part does alone it must do in any company: random takes of all kinds and numbers,
/// through all the ways that a take goes. BUTTONHOLE_TAKES=COUNT and BUTTONHOLE_TAKES_FROM=SEED ask
/// for more of them (scripts/combinations).
class TstRandomTakes : public QObject
{
    Q_OBJECT

    static constexpr int kWidth = 121;
    static constexpr int kHeight = 80;
    QTemporaryDir m_folder;
    std::shared_ptr<const PhotoLevels> m_levels;
    std::string m_photo;
    uint32_t m_seed = 0; ///< of the take that is looked at

    std::string at(const char *name) const
    {
        return m_folder.filePath(QLatin1String(name)).toStdString();
    }
    std::string named(const char *what) const
    {
        return what + (", seed " + std::to_string(m_seed));
    }

    static std::string textOf(const Take &take) { return takeToJson(take, nullptr).dump(); }

    static Result<Take> read(const json &in)
    {
        std::vector<std::string> notes;
        return takeFromText(in.dump(), kWidth, kHeight, "take.json", notes);
    }

    /// In one piece, or in tiles of that size as the window asks for them.
    std::vector<uint8_t> rendered(const Take &take, int tile = 10000) const
    {
        const PictureRect all = pictureOf(*m_levels, take).rect();
        const OutputColour output(m_levels->photo().profile);
        const size_t perRow = size_t(all.width()) * 3;
        std::vector<uint8_t> out(perRow * size_t(all.height()));
        for (int y = all.y0; y < all.y1; y += tile)
            for (int x = all.x0; x < all.x1; x += tile) {
                const PictureRect area{x, y, std::min(x + tile, all.x1),
                                       std::min(y + tile, all.y1)};
                uint8_t *first = out.data() + size_t(y - all.y0) * perRow + size_t(x - all.x0) * 3;
                if (!renderPicture(*m_levels, take, View::Result, 0, area, output,
                                   {RenderTarget::Layout::Rgb8, first, perRow}))
                    return {};
            }
        return out;
    }

    std::vector<uint8_t> exported(const Take &take, int threads)
    {
        const std::string file = at("out.png");
        bool isDone = false;
        const tbb::global_control most(tbb::global_control::max_allowed_parallelism,
                                       size_t(threads));
        tbb::task_arena(threads).execute([&] {
            ExportSettings settings;
            settings.format = PictureFormat::Png;
            isDone = bool(exportPicture(*m_levels, take, settings, file));
        });
        return isDone ? test::bytesOf(QString::fromStdString(file)) : std::vector<uint8_t>();
    }

    void comesBackFromItsFile(const Take &take)
    {
        Container container;
        container.work.takes = {std::make_shared<const Take>(take)};
        container.photo = referenceTo(m_levels->photo());
        const std::string file = at("work.buttonhole");
        std::remove(file.c_str());
        const auto saved = saveContainer(container, file, m_photo, {});
        QVERIFY2(saved, named(saved ? "" : sentence(saved.error()).c_str()).c_str());
        const auto again = loadContainer(file);
        QVERIFY2(again, named(again ? "" : sentence(again.error()).c_str()).c_str());
        const Take &opened = again->work.take();
        QVERIFY2(textOf(opened) == textOf(take), named("another text").c_str());
        QVERIFY2(rendered(opened) == rendered(take), named("another picture").c_str());
    }

    void isTheSameAsAPreset(const Take &take)
    {
        std::vector<std::string> groups;
        for (const TakeGroup &group : takeGroups())
            groups.emplace_back(group.id);
        std::vector<std::string> notes;
        const Preset written = presetOf(take, groups, "All of it", kWidth, kHeight);
        const auto preset = presetFromText(presetToText(written), "preset.json", notes);
        QVERIFY2(preset, named(preset ? "" : sentence(preset.error()).c_str()).c_str());
        std::vector<CarriedStep> report;
        Take put = withPreset(Take(), *preset, {kWidth, kHeight, true, {}}, report);
        for (const CarriedStep &step : report)
            if (step.how == CarriedStep::How::LeftOut || step.how == CarriedStep::How::NotFound)
                return;
        // What belongs to one photo alone no preset has.
        Take carried = take;
        carried.geometry = put.geometry;
        carried.removals.clear();
        carried = withMends(std::move(carried), {});
        put.greyOn = carried.greyOn;
        ++m_asPresets;
        QVERIFY2(rendered(put) == rendered(carried), named("a preset makes another one").c_str());
    }

    /// Undo and redo come to the same, and no tile is held that is not counted.
    void history(const std::vector<Take> &takes)
    {
        History history;
        std::vector<std::string> texts{textOf(history.present().take())};
        for (const Take &take : takes) {
            history.push("A move", history.present().with(take));
            texts.push_back(textOf(take));
        }
        history.settle();
        const auto heldBeyondPresent = [&] {
            std::unordered_set<const TileBlock *> present;
            history.present().take().visitPlanes([&](const MaskPlane &plane) {
                plane.visitBlocks([&](const auto &block) { present.insert(block.get()); });
            });
            std::unordered_set<const TileBlock *> seen;
            size_t bytes = 0;
            for (const History::Entry &entry : history.entries())
                entry.work.take().visitPlanes([&](const MaskPlane &plane) {
                    plane.visitBlocks([&](const auto &block) {
                        if (!present.contains(block.get()) && seen.insert(block.get()).second)
                            bytes += block->bytes();
                    });
                });
            return bytes;
        };
        for (int way = 0; way < 4; ++way) {
            while (way % 2 == 0 ? history.canUndo() : history.canRedo()) {
                way % 2 == 0 ? history.undo() : history.redo();
                QCOMPARE(textOf(history.present().take()), texts[history.index()]);
                history.settle();
                QCOMPARE(history.bytes(), heldBeyondPresent());
            }
        }
    }

    int m_asPresets = 0;

private Q_SLOTS:
    void initTestCase()
    {
        m_photo = at("photo.jpg");
        test::writeJpeg(QString::fromStdString(m_photo),
                        test::makePicture<uint8_t>(kWidth, kHeight));
        auto photo = loadPhoto(m_photo);
        QVERIFY(photo);
        m_levels = PhotoLevels::make(std::make_shared<const Photo>(std::move(*photo))).value();
    }

    void everyWayIsTheSame()
    {
#ifdef __SANITIZE_ADDRESS__
        constexpr int kUsual = 20;
#else
        constexpr int kUsual = 100;
#endif
        const int asked = qEnvironmentVariableIntValue("BUTTONHOLE_TAKES");
        const int count = asked > 0 ? asked : kUsual;
        const int from = qEnvironmentVariableIntValue("BUTTONHOLE_TAKES_FROM");
        int refused = 0;
        std::vector<Take> row;
        for (int i = 0; i < count; ++i) {
            m_seed = uint32_t(from + i);
            const test::RandomTake made(m_seed, kWidth, kHeight);
            const auto take = read(made.take());
            if (!take) {
                ++refused;
                QVERIFY2(take.error().kind == ErrorKind::BadValue, named("refused").c_str());
                continue;
            }
            const json out = json::parse(textOf(*take));
            QVERIFY2(out.at("readableFrom").get<int>() == made.since(),
                     named(("asks for version " + out.at("readableFrom").dump() + ", not " +
                            std::to_string(made.since()))
                               .c_str())
                         .c_str());
            const auto again = read(out);
            QVERIFY2(again, named("cannot be read again").c_str());
            QVERIFY2(textOf(*again) == out.dump(), named("another text").c_str());
            const auto picture = rendered(*take);
            QVERIFY2(!picture.empty(), named("cannot be rendered").c_str());
            QVERIFY2(rendered(*again) == picture, named("another picture by its text").c_str());
            QVERIFY2(rendered(*take, 47) == picture, named("another picture in tiles").c_str());
            const auto file = exported(*take, 1);
            QVERIFY2(!file.empty(), named("cannot be exported").c_str());
            QVERIFY2(exported(*take, 8) == file, named("threads make another picture").c_str());
            comesBackFromItsFile(*take);
            isTheSameAsAPreset(*take);
            row.push_back(*take);
            if (row.size() == 10) {
                history(row);
                row.clear();
            }
            if (QTest::currentTestFailed())
                return;
        }
        qInfo("%d refused, %d put on as presets", refused, m_asPresets);
        QVERIFY(refused * 4 < count);
    }
};

BUTTONHOLE_TEST(TstRandomTakes)

#include "tst_random_takes.moc"

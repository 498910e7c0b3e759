#include "command_line.h"
#include "controls/slider.h"
#include "document/set_param.h"
#include "document/take_json.h"
#include "light/number_adjustment.h"
#include "registry.h"
#include "render/light_chain.h"
#include "ticket/ticket.h"
#include "window_driver.h"

#include <nlohmann/json.hpp>

#include <QTemporaryDir>

using namespace buttonhole;
using nlohmann::json;

namespace
{

/// A made-up adjustment: light is drawn towards the mean of what lies round about, by a share.
struct Dusk {
    float share = 0;
    float radiusPx = 4;

    static constexpr std::string_view kKind = "dusk";
    static constexpr int kSince = 7;
    static std::span<const Param<Dusk>> rows()
    {
        static constexpr Param<Dusk> kRows[] = {
            {"share", [](Dusk &d) -> float & { return d.share; }, 0, 1, kSince, {100, " %"}},
            {"radiusPx", [](Dusk &d) -> float & { return d.radiusPx; }, 1, 40, kSince, {1, " px"}}};
        return kRows;
    }
    int reachPx() const { return int(radiusPx); }
    LightChange change(const LightSpace &) const
    {
        return [*this](const Source &in, int level, LightTile &out, const Run &run) {
            return apply(in, level, out, run);
        };
    }

private:
    Result<void> apply(const Source &in, int level, LightTile &out, const Run &run) const
    {
        const Rect area = out.area();
        const Rect picture = in.rectOf(level);
        const int r = std::max(1, int(radiusPx) >> level);
        LightTile wide(widenedBy(area, int(radiusPx), level, picture));
        if (auto done = in.read(level, wide, run); !done)
            return done;
        for (int y = area.y0; y < area.y1; ++y)
            for (int x = area.x0; x < area.x1; ++x)
                for (int c = 0; c < 3; ++c) {
                    const int left = std::max(x - r, picture.x0);
                    const int right = std::min(x + r, picture.x1 - 1);
                    const float mean = (*wide.at(c, left, y) + *wide.at(c, right, y)) / 2;
                    const float own = *wide.at(c, x, y);
                    *out.at(c, x, y) = own + share * (mean - own);
                }
        return {};
    }
};

/// One that cannot be had.
struct Broken {
    float share = 0;
    static constexpr std::string_view kKind = "broken";
    static constexpr int kSince = 7;
    static std::span<const Param<Broken>> rows()
    {
        static constexpr Param<Broken> kRows[] = {
            {"share", [](Broken &d) -> float & { return d.share; }, 0, 1, kSince}};
        return kRows;
    }
    int reachPx() const { return 0; }
    LightChange change(const LightSpace &) const
    {
        return [](const Source &, int, LightTile &, const Run &) -> Result<void> {
            return Error{ErrorKind::NotFound, "profile of the lens", {}};
        };
    }
};

using DuskAdjustment = NumberAdjustment<Dusk>;

AdjustmentRef dusk(float share, float radiusPx = 4)
{
    return std::make_shared<const DuskAdjustment>(Dusk{share, radiusPx});
}

std::vector<uint16_t> render(const PhotoLevels &levels, const Take &take, const Rect &area,
                             int level = 0, View view = View::Result, StageCache *cache = nullptr)
{
    static const OutputColour output(Profile::srgb());
    std::vector<uint16_t> codes(area.area() * 3);
    RenderOptions options;
    options.cache = cache;
    const auto done = renderPicture(
        levels, take, view, level, test::asPicture(area), output,
        {RenderTarget::Layout::Rgb16, codes.data(), size_t(area.width()) * 6}, options);
    return done ? codes : std::vector<uint16_t>();
}

/// Pixels that differ in a rectangle of two pictures so wide.
size_t differing(const std::vector<uint16_t> &a, const std::vector<uint16_t> &b, int width,
                 const Rect &in)
{
    size_t count = 0;
    for (int y = in.y0; y < in.y1; ++y)
        for (int x = in.x0; x < in.x1; ++x) {
            const auto at = (size_t(y) * size_t(width) + size_t(x)) * 3;
            count +=
                std::equal(a.begin() + long(at), a.begin() + long(at) + 3, b.begin() + long(at))
                    ? 0
                    : 1;
        }
    return count;
}

} // namespace

/// What a new adjustment takes: this file's struct, and nothing anywhere else.
class TstAddAdjustment : public QObject
{
    Q_OBJECT

    static constexpr int kWidth = 620;
    static constexpr int kHeight = 380;
    QTemporaryDir m_folder;
    std::shared_ptr<const PhotoLevels> m_levels;

    /// A keep on the left, and a local tone over a stroke in the middle.
    static Take taken(AdjustmentRef effect)
    {
        const Tip tip{120, 1, 1, 1, PressureSteers::Nothing};
        Take take = test::makePaintedTake(kWidth, kHeight,
                                          {test::makeStroke(tip, {{150, 100}, {150, 280}})});
        const Take other = test::makePaintedTake(kWidth, kHeight,
                                                 {test::makeStroke(tip, {{200, 190}, {420, 190}})});
        LocalTone tone;
        tone.steps = other.keeps[0].steps;
        tone.effects = {std::move(effect)};
        return withNewTone(std::move(take), std::move(tone));
    }

private Q_SLOTS:
    void initTestCase()
    {
        adjustmentKinds().add(DuskAdjustment::makeKind());
        adjustmentKinds().add(NumberAdjustment<Broken>::makeKind());
        m_levels = PhotoLevels::make(test::makePhoto(kWidth, kHeight)).value();
    }

    void filesHoldIt()
    {
        Take take = taken(dusk(0.5F, 9));
        take.tones[0].strength = 0.75F;
        take.prepare.push_back({take.nextId++, false, dusk(0.25F)});
        take.finish.push_back({take.nextId++, true, dusk(1)});
        const json out = takeToJson(take, nullptr);
        QCOMPARE(out.at("readableFrom").get<int>(), 7);
        std::vector<std::string> notes;
        const auto back = takeFromText(out.dump(), kWidth, kHeight, "take", notes);
        QVERIFY2(back, back ? "" : sentence(back.error()).c_str());
        QCOMPARE(takeToJson(*back, nullptr).dump(), out.dump());
        QCOMPARE(back->tones[0].effects[0]->content(), take.tones[0].effects[0]->content());
        QVERIFY(!back->prepare[0].on);
        QCOMPARE(back->tones[0].steps.size(), size_t(1));

        json newer = out;
        newer["tones"][0]["effects"][0]["kind"] = "of-tomorrow";
        newer["tones"][0]["effects"][0]["depth"] = 3;
        const auto kept = takeFromText(newer.dump(), kWidth, kHeight, "take", notes);
        QVERIFY(kept && !notes.empty());
        QCOMPARE(takeToJson(*kept, nullptr).dump(), newer.dump());

        for (const auto &[id, value] : {std::pair("share", 1.5), std::pair("radiusPx", 0.0)}) {
            json wrong = out;
            wrong["tones"][0]["effects"][0][id] = value;
            const auto refused = takeFromText(wrong.dump(), kWidth, kHeight, "take", notes);
            QVERIFY(!refused);
            QVERIFY2(refused.error().detail.find(id) != std::string::npos,
                     refused.error().detail.c_str());
        }
    }

    void itActsInItsMaskAndNowhereElse()
    {
        const Take take = taken(dusk(1, 9));
        Take without = take;
        without.tones.clear();
        const Rect all = m_levels->rectOf(0);
        const auto with = render(*m_levels, take, all);
        const auto plain = render(*m_levels, without, all);
        QVERIFY(differing(with, plain, kWidth, {250, 150, 400, 230}) > 11000); // of 12000
        QCOMPARE(differing(with, plain, kWidth, {0, 0, kWidth, 120}), size_t(0));
        QCOMPARE(differing(with, plain, kWidth, {490, 0, kWidth, kHeight}), size_t(0));
        // A mask's half takes half of the change.
        Take half = take;
        half.tones[0].strength = 0.5F;
        const auto mixed = render(*m_levels, half, all);
        QVERIFY(differing(mixed, plain, kWidth, {250, 150, 400, 230}) > 11000);
        QVERIFY(differing(mixed, with, kWidth, {250, 150, 400, 230}) > 11000);
        half.tones[0].on = false;
        QCOMPARE(render(*m_levels, half, all), plain);
    }

    void tilesJoinedAreTheWholePicture()
    {
        Take take = taken(dusk(0.8F, 17));
        take.prepare.push_back({take.nextId++, true, dusk(0.6F, 11)});
        take.finish.push_back({take.nextId++, true, dusk(0.3F, 5)});
        take.keeps[0].spill = 1;
        take.keeps[0].look.hueShiftDeg = 40;
        StageCache cache;
        for (const int level : {0, 1}) {
            const Rect all = m_levels->rectOf(level);
            const auto whole = render(*m_levels, take, all, level);
            QCOMPARE(render(*m_levels, take, all, level, View::Result, &cache), whole);
            QCOMPARE(render(*m_levels, take, all, level, View::Result, &cache), whole);
            for (const Rect &part : {Rect{0, 0, 256, 150}, Rect{130, 77, 300, 140}}) {
                const auto codes = render(*m_levels, take, part, level);
                for (int y = part.y0; y < part.y1; ++y)
                    QVERIFY(std::equal(codes.begin() + long(y - part.y0) * part.width() * 3,
                                       codes.begin() + long(y - part.y0 + 1) * part.width() * 3,
                                       whole.begin() + (long(y) * all.width() + part.x0) * 3));
            }
        }
    }

    void tonesOverlapInTheirOrder()
    {
        Take take = taken(dusk(1, 3));
        LocalTone second = take.tones[0];
        second.effects = {dusk(1, 20)};
        take = withNewTone(std::move(take), std::move(second));
        const Rect all = m_levels->rectOf(0);
        const auto both = render(*m_levels, take, all);
        Take turned = take;
        std::swap(turned.tones[0], turned.tones[1]);
        const Rect inside{250, 150, 400, 230};
        for (size_t left : {0, 1}) {
            Take one = take;
            one.tones.erase(one.tones.begin() + long(left));
            QVERIFY(differing(render(*m_levels, one, all), both, kWidth, inside) > 8000);
        }
        QVERIFY(differing(render(*m_levels, turned, all), both, kWidth, inside) > 0);
    }

    void masksAreOfThePhotoWhateverIsPrepared()
    {
        Take take = taken(dusk(0));
        Take prepared = take;
        prepared.prepare.push_back({prepared.nextId++, true, dusk(1, 20)});
        const Rect all = m_levels->rectOf(0);
        QCOMPARE(render(*m_levels, prepared, all, 0, View::Mask),
                 render(*m_levels, take, all, 0, View::Mask));
        QCOMPARE(render(*m_levels, prepared, all, 0, View::Original),
                 render(*m_levels, take, all, 0, View::Original));
        QVERIFY(differing(render(*m_levels, prepared, all), render(*m_levels, take, all), kWidth,
                          all) > size_t(kWidth) * kHeight * 9 / 10);
    }

    void whatAStrokeMovesIsAsFarAsItReaches()
    {
        Take take = taken(dusk(1, 12));
        const Rect photo = m_levels->rectOf(0);
        const Rect dirty{100, 100, 140, 130};
        QCOMPARE(reachedBy(take, take.keeps[0], dirty, photo), (Rect{88, 88, 152, 142}));
        take.finish.push_back({take.nextId++, true, dusk(1, 30)});
        QCOMPARE(reachedBy(take, take.keeps[0], dirty, photo), (Rect{58, 58, 182, 172}));
        QCOMPARE(reachedBy(take, take.tones[0], dirty, photo), (Rect{70, 70, 170, 160}));
    }

    void aRenderStopsAndFails()
    {
        const OutputColour output(Profile::srgb());
        std::vector<uint8_t> pixels(size_t(kWidth) * kHeight * 3);
        const RenderTarget target{RenderTarget::Layout::Rgb8, pixels.data(), kWidth * 3};
        std::stop_source stop;
        stop.request_stop();
        RenderOptions options;
        options.run.stop = stop.get_token();
        const auto stopped =
            renderPicture(*m_levels, taken(dusk(1)), View::Result, 0,
                          test::asPicture(m_levels->rectOf(0)), output, target, options);
        QVERIFY(!stopped && stopped.error().kind == ErrorKind::Cancelled);

        const Take take = taken(std::make_shared<const NumberAdjustment<Broken>>(Broken{1}));
        const QString file = m_folder.filePath(QStringLiteral("broken.png"));
        ExportSettings settings;
        settings.format = ExportSettings::Format::Png;
        const auto failed = exportPicture(*m_levels, take, settings, file.toStdString());
        QVERIFY(!failed);
        QVERIFY2(failed.error().kind == ErrorKind::NotFound, sentence(failed.error()).c_str());
        QVERIFY(!QFile::exists(file));
    }

    /// The window's slider, undo, and export; and the command line's --set, all of one take.
    void theWindowAndTheCommandLineHaveIt()
    {
        test::WindowDriver driver(m_folder.filePath(QStringLiteral("window")));
        const QString photo = test::demo("spools.jpg");
        QVERIFY(driver.open(photo));
        const Photo &opened = driver.session().levels()->photo();
        const Tip tip{400, 1, 1, 1, PressureSteers::Nothing};
        LocalTone tone;
        tone.name = "Shelf";
        tone.steps = test::makePaintedTake(opened.width, opened.height,
                                           {test::makeStroke(tip, {{600, 500}, {900, 500}})})
                         .keeps[0]
                         .steps;
        tone.effects = {dusk(0, 12)};
        uint64_t id = 0;
        driver.session().edit(QStringLiteral("Tone"),
                              withNewTone(*driver.session().take(), std::move(tone), &id));
        auto *ticket = driver.window().findChild<app::Ticket *>();
        QCOMPARE(ticket->rows().back()->content().name, QStringLiteral("Brush")); // its step
        app::TicketRow *row = ticket->rows()[ticket->rows().size() - 2];
        QCOMPARE(row->content().name, QStringLiteral("Shelf"));
        QTest::mouseClick(row, Qt::LeftButton);
        QCOMPARE(driver.session().line().lineId, id);
        driver.settle();
        const QColor before = driver.colourAt(750, 500);

        auto *slider = driver.window().findChild<app::Slider *>(QStringLiteral("dusk.share"));
        QVERIFY(slider && slider->isVisible());
        QCOMPARE(slider->amount(), 0.0);
        slider->setFocus();
        for (int i = 0; i < 10; ++i)
            QTest::keyClick(slider, Qt::Key_PageUp);
        const float set = driver.session().take()->tones[0].effects[0]->number(0);
        QVERIFY2(set > 0.5F, qPrintable(QString::number(set)));
        QCOMPARE(slider->amount(), double(set) * 100);
        driver.settle();
        int moved = 0;
        for (int x = 600; x < 900; x += 10)
            moved += driver.colourAt(x, 500) != before ? 1 : 0;
        QVERIFY(moved > 10);

        const QString byWindow = m_folder.filePath(QStringLiteral("window.png"));
        ExportSettings settings;
        settings.format = ExportSettings::Format::Png;
        QVERIFY(driver.exportTo(byWindow, settings));
        while (driver.session().take()->tones[0].effects[0]->number(0) > 0) // a press each
            driver.session().undo();
        QCOMPARE(driver.session().take()->tones.size(), size_t(1));
        QCOMPARE(driver.session().take()->tones[0].effects[0]->number(0), 0.0F);
        QCOMPARE(slider->amount(), 0.0);
        const QString work = m_folder.filePath(QStringLiteral("work.buttonhole"));
        QVERIFY(driver.save(work));

        const QString byLine = m_folder.filePath(QStringLiteral("line.png"));
        const auto run = [&](const std::string &value) {
            return test::runQuietly({"render", work.toStdString(), "-o", byLine.toStdString(),
                                     "--set", "tone:Shelf.dusk.share=" + value});
        };
        QCOMPARE(run(std::to_string(set)), 0);
        QCOMPARE(test::bytesOf(byLine), test::bytesOf(byWindow));
        QCOMPARE(run("2"), 2); // out of range
    }
};

BUTTONHOLE_TEST(TstAddAdjustment)

#include "tst_add_adjustment.moc"

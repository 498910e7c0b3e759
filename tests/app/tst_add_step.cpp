#include "base/param_json.h"
#include "controls/slider.h"
#include "mask/step_json.h"
#include "tools/toolbox.h"

#include "command_line.h"
#include "registry.h"
#include "sample_files.h"
#include "window_driver.h"

#include <QTemporaryDir>
#include <QToolButton>

using namespace buttonhole;
using namespace buttonhole::test;

namespace
{

/// Squares in turn in and out, as in a plain weave.
struct Weave {
    float squarePx = 24;
    PhotoPoint from;
    static std::span<const Param<Weave>> rows()
    {
        static constexpr Param<Weave> kRows[] = {{"squarePx",
                                                  [](Weave &w) -> float & { return w.squarePx; },
                                                  2,
                                                  400,
                                                  8,
                                                  {1, " px", 0, ParamScale::Way::Even, 2, 100}}};
        return kRows;
    }
};

class WeaveStep final : public StepShape
{
public:
    explicit WeaveStep(const Weave &weave) : m_weave(weave) {}
    static Result<std::shared_ptr<const StepShape>> fromJson(const nlohmann::json &in, MaskReader &)
    {
        Weave weave;
        if (auto fine = paramsFromJson(in, weave, Weave::rows(), "weave "); !fine)
            return fine.error();
        const auto from = pointFromJson(in.at("from"), "from");
        if (!from)
            return from.error();
        weave.from = *from;
        return std::shared_ptr<const StepShape>(std::make_shared<WeaveStep>(weave));
    }
    std::string kind() const override { return "weave"; }
    StepFacts facts() const override { return {{"threads", 7}}; }
    Effect coverage(const PhotoLevels &, int level, const Rect &area, uint16_t *lo,
                    uint16_t *) const override
    {
        const auto square = [&](int at, float from) {
            const float px = (float(at) + 0.5F) * float(1 << level) - from;
            return int(std::floor(px / m_weave.squarePx));
        };
        for (int y = area.y0; y < area.y1; ++y)
            for (int x = area.x0; x < area.x1; ++x) {
                const int sum = square(x, m_weave.from.x) + square(y, m_weave.from.y);
                *lo++ = sum % 2 == 0 ? 65535 : 0;
            }
        return Effect::Raises;
    }
    void toJson(nlohmann::json &out, MaskWriter *, const std::string &) const override
    {
        paramsToJson(out, m_weave, Weave::rows(), ParamsWritten::All);
        out["from"] = {m_weave.from.x, m_weave.from.y};
    }
    float number(size_t index) const override { return Weave::rows()[index].get(m_weave); }
    std::shared_ptr<const StepShape> withNumber(size_t index, float value) const override
    {
        return std::make_shared<WeaveStep>(changed(m_weave, Weave::rows()[index], value));
    }

private:
    Weave m_weave;
};

/// A click begins a weave there.
class WeaveTool final : public app::Tool
{
    Q_OBJECT
public:
    using Tool::Tool;
    std::string kind() const override { return "weave"; }
    QString help() const override { return QStringLiteral("Click where a square begins."); }
    void press(const app::PointerEvent &event) override
    {
        if (!takeHold())
            return;
        Weave weave;
        weave.from = event.at();
        show(std::make_shared<WeaveStep>(weave), m_sign.of(event.opposite), 0);
        m_isDown = true;
    }
    void move(const app::PointerEvent &) override {}
    void release() override
    {
        if (std::exchange(m_isDown, false))
            finish(QStringLiteral("Weave"));
    }
    void drop() override
    {
        m_isDown = false;
        cancel();
    }
    bool isBusy() const override { return m_isDown; }

private:
    bool m_isDown = false;
};

} // namespace

/// What a new kind of step with its tool takes: this file's classes, a row in each of two tables,
/// and nothing anywhere else.
class TstAddStep : public QObject
{
    Q_OBJECT
    QTemporaryDir m_folder;

    QString at(const char *name) const { return m_folder.filePath(QString::fromLatin1(name)); }

private Q_SLOTS:
    void initTestCase()
    {
        stepKinds().add({"weave", WeaveStep::fromJson, anyParams(Weave::rows())});
        app::toolKinds().add(
            {"weave", QT_TRANSLATE_NOOP("Tools", "Weave"),
             [](app::Session &session, const app::ToolSign &sign, app::Jobs &, QObject *parent) {
                 return new WeaveTool(session, sign, parent);
             }});
    }

    void theToolHasAKeyAPlaceAndItsStepItsNumbers()
    {
        WindowDriver driver(at("settings"));
        QVERIFY(driver.open(demo("spools.jpg")));
        driver.key(Qt::Key_9);
        const app::Tool &tool = driver.window().toolbox().current();
        QCOMPARE(tool.kind(), std::string("weave"));
        const auto pills = driver.window().findChildren<QToolButton *>();
        const auto pill = std::find_if(pills.begin(), pills.end(), [](const QToolButton *each) {
            return each->text() == QStringLiteral("9  Weave");
        });
        QVERIFY(pill != pills.end() && (*pill)->isChecked() && (*pill)->isVisible());
        QCOMPARE(driver.window().actions()["tool-9"]->text(), QStringLiteral("Weave"));

        driver.paint({{1200, 700}});
        const auto maskAt = [&](int x, int y) {
            return maskOf(driver.session().take()->keeps[0], {x, y, x + 1, y + 1})[0];
        };
        const auto step = [&]() -> const StepShape & {
            return *driver.session().take()->keeps[0].steps[0].shape;
        };
        QCOMPARE(driver.session().take()->keeps[0].steps.size(), size_t(1));
        QCOMPARE(int(maskAt(1212, 712)), 65535);
        QCOMPARE(int(maskAt(1236, 712)), 0);
        driver.settle();

        auto *slider = driver.window().findChild<app::Slider *>(QStringLiteral("weave.squarePx"));
        QVERIFY(slider && slider->isVisible());
        QCOMPARE(slider->amount(), 24.0);
        slider->setFocus();
        for (int i = 0; i < 16; ++i)
            QTest::keyClick(slider, Qt::Key_Right);
        QCOMPARE(step().number(0), 40.0F);
        QCOMPARE(int(maskAt(1236, 712)), 65535);
        driver.settle();

        const QString byWindow = at("window.png");
        ExportSettings settings;
        settings.format = ExportSettings::Format::Png;
        QVERIFY(driver.exportTo(byWindow, settings));
        const QString work = at("work.buttonhole");
        QVERIFY(driver.save(work));
        while (step().number(0) > 24)
            driver.key(Qt::Key_Z, Qt::ControlModifier);
        QCOMPARE(slider->amount(), 24.0);
        driver.key(Qt::Key_1); // selecting the step takes its tool up again
        const Keep &keep = driver.session().take()->keeps[0];
        driver.session().select({app::TicketLine::Kind::Keep, keep.id});
        driver.session().select({app::TicketLine::Kind::Step, keep.id, keep.steps[0].id});
        QCOMPARE(driver.window().toolbox().current().kind(), std::string("weave"));

        WindowDriver again(at("settings2"));
        QVERIFY(again.open(work));
        QCOMPARE(again.session().take()->keeps[0].steps[0].shape->number(0), 40.0F);
        const QString byLine = at("line.png");
        QCOMPARE(runQuietly({"render", work.toStdString(), "-o", byLine.toStdString()}), 0);
        QCOMPARE(bytesOf(byLine), bytesOf(byWindow));
        const std::string name = "keep:" + driver.session().take()->keeps[0].name;
        const auto render = [&](const std::string &set) {
            return runQuietly({"render", work.toStdString(), "-o", byLine.toStdString(), "--set",
                               name + ".step:" + set});
        };
        QCOMPARE(render("1.squarePx=24"), 0);
        QVERIFY(bytesOf(byLine) != bytesOf(byWindow));
        QCOMPARE(render("1.squarePx=1000"), 2);
        QCOMPARE(render("1.size=10"), 3);
        QCOMPARE(render("2.squarePx=10"), 3);
        QCOMPARE(render("x.squarePx=10"), 3);
    }
};

BUTTONHOLE_TEST(TstAddStep)

#include "tst_add_step.moc"

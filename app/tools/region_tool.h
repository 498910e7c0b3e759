#pragma once

#include "jobs/jobs.h"
#include "mask/region_step.h"
#include "tools/tool.h"

namespace buttonhole::app
{

/// Grows a region from clicks, loose strokes or a box. Marks go on in the selected region; with
/// Ctrl they leave something out. What grows is worked out in the background: coarsely while the
/// pointer moves, exactly when it is let go.
class RegionTool : public Tool
{
    Q_OBJECT
public:
    RegionTool(Session &session, const ToolSign &sign, Jobs &jobs, QObject *parent);

    std::string kind() const override { return "region"; }
    QString help() const override
    {
        return isAnswering() || selectedRegion()
                   ? tr("More strokes add, Ctrl-strokes leave out. Ctrl-click a mark to take it "
                        "away. Q, W: smaller, larger.")
                   : tr("Click or scribble on the subject, or Shift-drag a box round it.");
    }

    void press(const PointerEvent &event) override;
    void move(const PointerEvent &event) override;
    void hover(const PointerEvent &event) override;
    void release() override;
    void drop() override;
    bool isBusy() const override { return m_isDown; }
    bool isUnfinished() const override { return m_isAnswering; }
    void reset() override;
    bool resize(bool larger) override;
    /// @param reach -1 smaller .. 1 larger @param isFinal false: roughly, while a slider moves
    void setReach(float reach, bool isFinal);
    /// Once more from its marks, without what was found so far.
    void growAgain();
    void paintMarks(QPainter &painter, const ViewTransform &view) const override;

    static constexpr float kReachStep = kReachPerSize;

protected:
    /// Solves on a worker thread; one at a time. The ask receives the reach that it came to.
    using Solve =
        std::function<Result<MaskPlane>(const PhotoLevels &, RegionAsk &, const Run &, int finest)>;
    virtual Solve solver();
    /// What is on its way, seen sooner and roughly. Null: there is nothing like that for this ask.
    /// @return of it: nothing to be seen yet
    using Glimpse = std::function<Result<std::optional<MaskPlane>>(const PhotoLevels &, const Run &,
                                                                   int finest)>;
    virtual Glimpse glimpse(const RegionAsk &) { return nullptr; }
    /// What was found so far does not count any more.
    virtual void forget() { m_solver = std::make_shared<RegionSolver>(); }
    /// The selected step's box is drawn.
    virtual bool showsBox() const { return true; }
    virtual std::shared_ptr<const StepShape> shapeFor(const RegionAsk &ask, MaskPlane plane);
    /// A move with marks begins, in the selected step or (null) a new one.
    virtual void begins(const RegionStep *) {}
    /// The exact answer has landed.
    virtual void landed() {}
    void begin(uint64_t stepId, RegionAsk ask, Sign sign, const QString &text);
    /// Has what is asked worked out; the newest ask wins.
    void request();
    bool isAnswering() const { return m_isAnswering; }
    const RegionStep *selectedRegion() const;

    Jobs &m_jobs;

private:
    const RegionAsk *selectedAsk() const;
    /// The mark of the selected region under the pointer; -1 where there is none.
    int markAt(const PointerEvent &event) const;
    void takeAway(size_t mark);
    /// The selected region, or the one whose answer is on its way, asked otherwise.
    void ask(const std::function<void(RegionAsk &)> &change, const QString &text);
    /// What a job of ours came to.
    struct Answer {
        std::optional<Result<MaskPlane>> plane = {}; ///< none: nothing to be seen yet
        RegionAsk ask = {};                          ///< with the reach that it came to
        bool isExact = false;
    };
    void receive(Answer answer);
    bool isStillThere() const;
    void end();

    std::shared_ptr<RegionSolver> m_solver = std::make_shared<RegionSolver>();
    std::stop_source m_stop;
    RegionAsk m_ask;
    std::optional<RegionAsk> m_askBefore; ///< where a press goes on from one that is being answered
    Sign m_newSign = Sign::Add;
    uint64_t m_stepId = 0; ///< 0: a new one
    uint64_t m_into = 0;   ///< the line whose mask it joins
    QString m_text;
    PointerEvent m_start;
    int m_hovered = -1;
    bool m_isDown = false;
    bool m_isBox = false;
    bool m_isAnswering = false; ///< from the first press until the exact answer is there
    bool m_isRunning = false;   ///< a job of ours
    bool m_isStale = false;     ///< the ask has changed since that began
    bool m_isGlimpsed = false;  ///< what is asked was seen roughly, or cannot be
    int m_generation = 0;       ///< answers to a dropped move are not wanted
};

} // namespace buttonhole::app

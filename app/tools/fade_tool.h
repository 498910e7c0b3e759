#pragma once

#include "mask/fade_step.h"
#include "tools/tool.h"

namespace buttonhole::app
{

/// Draws a gradient by a drag; the selected one's handles can be moved.
class FadeTool final : public Tool
{
    Q_OBJECT
public:
    using Tool::Tool;
    std::string kind() const override { return "fade"; }
    QString help() const override
    {
        return m_isRound ? tr("Drag from the middle outwards, then move the handles.")
                         : tr("Drag from full colour to none, then move the handles.");
    }
    bool isRound() const { return m_isRound; }
    void setRound(bool round)
    {
        m_isRound = round;
        Q_EMIT marksChanged();
    }

    void press(const PointerEvent &event) override;
    void move(const PointerEvent &event) override;
    void release() override;
    void drop() override;
    bool isBusy() const override { return m_hold != Hold::None; }
    void paintMarks(QPainter &painter, const ViewTransform &view) const override;

private:
    enum class Hold { None, From, To, Side, Middle, New };
    Hold handleAt(const Fade &fade, const PointerEvent &event) const;
    const Fade *selectedFade() const;
    static PhotoPoint sideOf(const Fade &fade);

    bool m_isRound = false;
    Hold m_hold = Hold::None;
    Fade m_fade;
    Fade m_startFade;
    PointerEvent m_start;
    uint64_t m_stepId = 0;
    bool m_opposite = false;
};

} // namespace buttonhole::app

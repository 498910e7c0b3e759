#pragma once

#include "mask/colour_window.h"
#include "mask/match_step.h"
#include "tools/tool.h"

#include <optional>

namespace buttonhole::app
{

/// Tools that take colours off the picture: by a click, or across an area.
class PickTool : public Tool
{
    Q_OBJECT
public:
    using Tool::Tool;

    void press(const PointerEvent &event) override;
    void move(const PointerEvent &event) override;
    void release() override;
    void drop() override;
    bool isBusy() const override { return m_isDown; }
    void paintMarks(QPainter &painter, const ViewTransform &view) const override;

protected:
    struct Pick {
        PhotoPoint at;
        bool opposite = false;
        ColourSpread spread; ///< of what was dragged across, or of what a click means
    };
    virtual void picked(const Pick &pick) = 0;
    bool isDragged() const { return m_isDragged; }
    const PointerEvent &start() const { return m_start; }

    PointerEvent m_now;

private:
    Rect areaOf(const PhotoPoint &from, const PhotoPoint &to) const;

    bool m_isDown = false;
    bool m_isDragged = false;
    PointerEvent m_start;
};

class ColourWindowTool final : public PickTool
{
    Q_OBJECT
public:
    using PickTool::PickTool;
    std::string kind() const override { return "colour-window"; }
    QString help() const override
    {
        return tr("Click a colour or drag across it. Ctrl-click leaves a colour out.");
    }

protected:
    void picked(const Pick &pick) override;
};

class ToneWindowTool final : public PickTool
{
    Q_OBJECT
public:
    using PickTool::PickTool;
    std::string kind() const override { return "tone-window"; }
    QString help() const override
    {
        return tr("Click something light or dark, or drag across it.");
    }

protected:
    void picked(const Pick &pick) override;
};

/// A drag after the press changes how far "alike" reaches.
class MatchTool final : public PickTool
{
    Q_OBJECT
public:
    using PickTool::PickTool;
    std::string kind() const override { return "match"; }
    QString help() const override
    {
        return tr(
            "Click: all like it joins; drag sideways for more. Ctrl-click leaves a colour out.");
    }
    /// What a click reads, px a side; odd.
    int tipSide() const { return m_tipSide; }
    void setTipSide(int side) { m_tipSide = side; }

    void press(const PointerEvent &event) override;
    void move(const PointerEvent &event) override;
    void release() override;
    void drop() override;
    void paintMarks(QPainter &, const ViewTransform &) const override {}

protected:
    void picked(const Pick &) override {}

private:
    void showMatch();

    int m_tipSide = 5;
    Match m_match;
    float m_startReach = 0;
    uint64_t m_stepId = 0;
    bool m_opposite = false;
};

} // namespace buttonhole::app

#pragma once

#include "tools/brush_tool.h"
#include "tools/fade_tool.h"
#include "tools/outline_tool.h"
#include "tools/pixel_tools.h"
#include "tools/region_tool.h"
#include "tools/subject_tool.h"

namespace buttonhole::app
{

/// The tools, which of them is in hand, and the sign they share. Selecting a step takes up the tool
/// that makes its kind.
class Toolbox : public QObject
{
    Q_OBJECT
public:
    Toolbox(Session &session, Jobs &jobs, QObject *parent = nullptr);

    const QList<Tool *> &tools() const { return m_tools; }
    Tool &current() const { return *m_current; }
    void choose(Tool &tool);
    /// Chosen by hand: with Grey selected its keep comes along, since tools shape keeps.
    void takeUp(Tool &tool);
    /// The tool that makes the selected step's kind; null where there is none.
    Tool *ofSelectedStep() const;
    /// The tool that is `key` in the tray, 1..8; null where there is none.
    Tool *byKey(int key) const { return m_keys.value(key); }
    int keyOf(const Tool &tool) const { return m_keys.key(const_cast<Tool *>(&tool)); }

    BrushTool &brush() { return m_brush; }
    RegionTool &region() { return m_region; }
    ColourWindowTool &colourWindow() { return m_colourWindow; }
    MatchTool &match() { return m_match; }
    FadeTool &fade() { return m_fade; }
    OutlineTool &outline() { return m_outline; }
    SubjectTool &subject() { return m_subject; }

    Sign sign() const { return m_sign.sign; }
    void setSign(Sign sign);

Q_SIGNALS:
    void chosen();
    void signChanged();

private:
    void followLine();

    Session &m_session;
    ToolSign m_sign;
    BrushTool m_brush;
    RegionTool m_region;
    OutlineTool m_outline;
    MatchTool m_match;
    ColourWindowTool m_colourWindow;
    ToneWindowTool m_toneWindow;
    FadeTool m_fade;
    SubjectTool m_subject;
    QList<Tool *> m_tools; ///< in tray order
    QMap<int, Tool *> m_keys;
    Tool *m_current;
};

} // namespace buttonhole::app

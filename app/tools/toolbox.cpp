#include "tools/toolbox.h"

#include "tools/fade_tool.h"
#include "tools/pixel_tools.h"
#include "tools/tool_options.h"

#include <algorithm>

namespace buttonhole::app
{

namespace
{

template <class T>
Tool *makeTool(Session &session, const ToolSign &sign, Jobs &jobs, QObject *parent)
{
    if constexpr (std::is_constructible_v<T, Session &, const ToolSign &, Jobs &, QObject *>)
        return new T(session, sign, jobs, parent);
    else
        return new T(session, sign, parent);
}

} // namespace

/// A new tool adds its files and its line here.
KindTable<ToolKind> &toolKinds()
{
    static KindTable<ToolKind> all(std::deque<ToolKind>{
        {"brush", QT_TRANSLATE_NOOP("Tools", "Brush"), makeTool<BrushTool>, makeBrushOptions,
         false},
        {"region", QT_TRANSLATE_NOOP("Tools", "Region"), makeTool<RegionTool>},
        {"outline", QT_TRANSLATE_NOOP("Tools", "Outline"), makeTool<OutlineTool>,
         makeOutlineOptions},
        {"match", QT_TRANSLATE_NOOP("Tools", "Match"), makeTool<MatchTool>, makeMatchOptions},
        {"colour-window", QT_TRANSLATE_NOOP("Tools", "Colour window"), makeTool<ColourWindowTool>},
        {"tone-window", QT_TRANSLATE_NOOP("Tools", "Tone window"), makeTool<ToneWindowTool>},
        {"fade", QT_TRANSLATE_NOOP("Tools", "Fade"), makeTool<FadeTool>, makeFadeOptions},
        {"subject", QT_TRANSLATE_NOOP("Tools", "Subject"), makeTool<SubjectTool>,
         makeSubjectOptions, false},
    });
    return all;
}

QString keyOfTool(std::string_view id)
{
    const auto &all = toolKinds().all();
    const auto at =
        std::find_if(all.begin(), all.end(), [&](const ToolKind *kind) { return kind->id == id; });
    return QString::number(at - all.begin() + 1);
}

Toolbox::Toolbox(Session &session, Jobs &jobs, QObject *parent)
    : QObject(parent), m_session(session)
{
    for (const ToolKind *kind : toolKinds().all())
        m_tools.append(kind->make(m_session, m_sign, jobs, this));
    m_current = m_tools.front();
    connect(&m_session, &Session::lineChanged, this, &Toolbox::followLine);
    connect(&m_session, &Session::photoChanged, this, [this] {
        for (Tool *tool : m_tools) // what they know of the photo before goes with it
            tool->reset();
        m_current->takenUp();
    });
}

void Toolbox::choose(Tool &tool)
{
    if (m_current == &tool || m_current->isBusy())
        return;
    m_current->reset();
    m_current = &tool;
    m_current->takenUp();
    Q_EMIT chosen();
}

void Toolbox::takeUp(Tool &tool)
{
    choose(tool);
    const MaskedLine *line = m_session.masked();
    if (line && m_session.line().isOfAll())
        m_session.select(m_session.lineOf(*line));
}

void Toolbox::followLine()
{
    if (Tool *tool = ofSelectedStep())
        choose(*tool);
}

Tool *Toolbox::ofSelectedStep() const
{
    const Step *step = m_session.step();
    const auto makesIt = [&](Tool *tool) { return step && tool->kind() == step->shape->kind(); };
    const auto it = std::find_if(m_tools.begin(), m_tools.end(), makesIt);
    return it == m_tools.end() ? nullptr : *it;
}

void Toolbox::setSign(Sign sign)
{
    if (m_sign.sign == sign)
        return;
    m_sign.sign = sign;
    Q_EMIT signChanged();
}

} // namespace buttonhole::app

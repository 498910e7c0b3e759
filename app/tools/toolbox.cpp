#include "tools/toolbox.h"

namespace buttonhole::app
{

Toolbox::Toolbox(Session &session, Jobs &jobs, QObject *parent)
    : QObject(parent), m_session(session), m_brush(session, m_sign, this),
      m_region(session, m_sign, jobs, this), m_outline(session, m_sign, jobs, this),
      m_match(session, m_sign, this), m_colourWindow(session, m_sign, this),
      m_toneWindow(session, m_sign, this), m_fade(session, m_sign, this),
      m_subject(session, m_sign, jobs, this), m_current(&m_brush)
{
    m_keys = {{1, &m_brush},        {2, &m_region},     {3, &m_outline}, {4, &m_match},
              {5, &m_colourWindow}, {6, &m_toneWindow}, {7, &m_fade},    {8, &m_subject}};
    m_tools = m_keys.values();
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
    const Keep *keep = m_session.keep();
    if (keep && m_session.line().kind == TicketLine::Kind::Grey)
        m_session.select({TicketLine::Kind::Keep, keep->id});
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

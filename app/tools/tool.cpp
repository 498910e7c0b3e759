#include "tools/tool.h"

#include "commands/move_words.h"
#include "tools/toolbox.h"

#include <QCoreApplication>

namespace buttonhole::app
{

QString Tool::name() const
{
    const ToolKind *row = toolKinds().find(kind());
    return row ? QCoreApplication::translate("Tools", row->name) : QString();
}

bool Tool::takeHold()
{
    if (!m_session.hasPhoto() || !m_session.masked())
        return false;
    if (m_session.line().isOfAll())
        m_session.select(m_session.lineOf(*m_session.masked()));
    return true;
}

const Step *Tool::selectedStep() const
{
    const Step *step = m_session.step();
    return step && step->shape->kind() == kind() ? step : nullptr;
}

void Tool::show(const std::shared_ptr<const StepShape> &shape, Sign sign, uint64_t stepId)
{
    m_lineId = m_session.masked()->id;
    Take take = m_session.work().take();
    if (stepId == 0)
        take = withNewStep(std::move(take), m_lineId, sign, shape, &m_stepId);
    else
        take = withStep(std::move(take), m_lineId, m_stepId = stepId,
                        [&](Step &step) { step.shape = shape; });
    m_shows = true;
    m_session.showLive(std::move(take), {});
}

void Tool::finish(const QString &text)
{
    if (!m_shows)
        return;
    m_shows = false;
    m_session.commitLive(onMask(m_session, text));
    m_session.select({TicketLine::Kind::Step, m_lineId, m_stepId});
}

void Tool::cancel()
{
    if (!m_shows)
        return;
    m_shows = false;
    m_session.dropLive({});
}

} // namespace buttonhole::app

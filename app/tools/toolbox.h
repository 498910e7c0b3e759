#pragma once

#include "tools/brush_tool.h"
#include "tools/outline_tool.h"
#include "tools/subject_tool.h"

#include <functional>

namespace buttonhole::app
{

/// All that a tool brings to the window: one row. Its place in the table is its key.
struct ToolKind {
    std::string_view id; ///< of the steps that it makes
    const char *name;    ///< to be translated, in the context "Tools"
    std::function<Tool *(Session &, const ToolSign &, Jobs &, QObject *parent)> make;
    /// Its options for the tray; empty: it has none.
    std::function<QWidget *(Tool &, QWidget *parent)> makeOptions = {};
    bool explains = true; ///< beside its options is room for words on what to do next
};

KindTable<ToolKind> &toolKinds();
/// The key of the tool that makes steps of this kind.
QString keyOfTool(std::string_view id);

/// The tools, which of them is in hand, and the sign they share. Selecting a step takes up the tool
/// that makes its kind.
class Toolbox : public QObject
{
    Q_OBJECT
public:
    Toolbox(Session &session, Jobs &jobs, QObject *parent = nullptr);

    const QList<Tool *> &tools() const { return m_tools; } ///< as the kinds are
    Tool &current() const { return *m_current; }
    void choose(Tool &tool);
    /// Chosen by hand: with Grey selected its keep comes along, since tools shape keeps.
    void takeUp(Tool &tool);
    /// The tool that makes the selected step's kind; null where there is none.
    Tool *ofSelectedStep() const;
    /// The one of this class, which must be there.
    template <class T>
    T &the() const
    {
        const auto isOne = [](Tool *tool) { return tool->metaObject() == &T::staticMetaObject; };
        return static_cast<T &>(**std::find_if(m_tools.begin(), m_tools.end(), isOne));
    }
    BrushTool &brush() const { return the<BrushTool>(); }

    Sign sign() const { return m_sign.sign; }
    void setSign(Sign sign);

Q_SIGNALS:
    void chosen();
    void signChanged();

private:
    void followLine();

    Session &m_session;
    ToolSign m_sign;
    QList<Tool *> m_tools;
    Tool *m_current;
};

} // namespace buttonhole::app

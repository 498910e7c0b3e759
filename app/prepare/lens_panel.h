#pragma once

#include "commands/session.h"
#include "jobs/jobs.h"
#include "light/lens.h"

#include <QTimer>
#include <QWidget>

class QCompleter;
class QLabel;
class QLineEdit;
class QStringListModel;
class QToolButton;

namespace buttonhole::app
{

/// Which lens the photo was taken with: by what the photo says, or typed.
class LensPanel : public QWidget
{
    Q_OBJECT
public:
    LensPanel(Session &session, Jobs &jobs, QWidget *parent);

private:
    void addField();
    void addButtons();
    void search();
    /// Asks the library in the background, and takes what it answers.
    /// @param name of a lens; empty: what the photo says
    void take(const QString &name);
    void setProfile(const LensProfile &profile, const QString &text);
    void refresh();
    void say(const QString &problem);

    Session &m_session;
    Jobs &m_jobs;
    QLabel *m_used;
    QLineEdit *m_name = nullptr;
    QCompleter *m_names = nullptr;
    QStringListModel *m_found = nullptr;
    QToolButton *m_without = nullptr;
    QTimer m_typing;
    QString m_problem;
    std::stop_source m_asking;
};

} // namespace buttonhole::app

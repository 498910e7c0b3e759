#pragma once

#include "commands/session.h"
#include "jobs/jobs.h"
#include "settings/settings.h"

#include <QWidget>

namespace buttonhole::app
{

/// What opening, saving and exporting have in common: whose work it is, and how they speak of it.
class FileWork : public QObject
{
    Q_OBJECT
public:
    struct Of {
        QWidget &window; ///< dialogs stand before it
        Session &session;
        Jobs &jobs;
        Settings &settings;
    };
    explicit FileWork(const Of &of) : m_of(of) {}

Q_SIGNALS:
    void said(const QString &text);
    void warned(const QString &text); ///< worth more than a glance
    void failed(const buttonhole::Error &error);
    void recentChanged();

protected:
    QWidget *window() const { return &m_of.window; }
    Session &session() const { return m_of.session; }
    Jobs &jobs() const { return m_of.jobs; }
    Settings &settings() const { return m_of.settings; }
    QString folderForDialogs() const;
    void noteRecent(const QString &path);
    /// A file dialog asks about the name as it was typed; with its ending it may be another file's.
    void unlessInTheWay(const QString &asked, const QString &path,
                        const std::function<void()> &then,
                        const std::function<void()> &otherwise = {});

private:
    Of m_of;
};

} // namespace buttonhole::app

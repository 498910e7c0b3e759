#pragma once

#include "commands/session.h"
#include "document/preset_store.h"
#include "jobs/jobs.h"

#include <QWidget>

class QListWidget;
class QListWidgetItem;
class QToolButton;

namespace buttonhole::app
{

/// Presets at the head of the bench: pointing shows one on the canvas, a click puts it on.
class PresetsDrawer : public QWidget
{
    Q_OBJECT
public:
    PresetsDrawer(Session &session, Jobs &jobs, QWidget *parent);

    /// Reads the store again, in the background.
    void refresh();
    /// On the take that is worked on, as one move.
    void put(const Preset &preset);

Q_SIGNALS:
    void said(const QString &text);
    void failed(const buttonhole::Error &error);
    void closeAsked();

protected:
    bool eventFilter(QObject *watched, QEvent *event) override;
    void showEvent(QShowEvent *event) override;
    void hideEvent(QHideEvent *event) override;

private:
    void addHead();
    void fill(std::vector<StoredPreset> all);
    void fillTakeBack(QMenu &menu);
    const StoredPreset *presetOf(const QListWidgetItem *item) const; ///< null: a heading
    void point(const QListWidgetItem *item);
    void apply(const QListWidgetItem *item);
    void putFound(const Preset &preset);
    void takeBack(const std::string &group);
    void askToSave();
    void save(const QString &name, const QString &folder, std::vector<std::string> groups);
    void showMenu(const QPoint &at);
    void askForFile();
    void exportTo(const StoredPreset &stored);
    void rename(const StoredPreset &stored);
    QStringList folders() const;
    /// Changes the store in the background, then reads it again.
    void change(const std::function<Result<void>(const PresetStore &)> &what, const QString &done);

    Session &m_session;
    Jobs &m_jobs;
    PresetStore m_store = PresetStore::system();
    std::vector<StoredPreset> m_all;
    QListWidget *m_list;
    bool m_isPreviewing = false;
};

} // namespace buttonhole::app

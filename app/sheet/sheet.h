#pragma once

#include "jobs/jobs.h"
#include "sheet/sheet_model.h"

#include <QWidget>

class QComboBox;
class QLabel;
class QLineEdit;
class QListView;
class QMenu;
class QToolButton;

namespace buttonhole::app
{

/// The job's photos, a view of its own.
class Sheet : public QWidget
{
    Q_OBJECT
public:
    Sheet(Jobs &jobs, QWidget *parent);

    SheetModel &model() { return m_model; }
    /// Adds to the job what is not in it.
    void add(const PhotoJob &job);
    /// Selects a photo and brings it into sight.
    void show(const QString &path);
    /// The paths of what is selected, in the order that is seen; with none all that is seen.
    QStringList chosen() const;
    /// The photo before or behind one, in the order that is seen; empty: there is none.
    QString beside(const QString &path, int by) const;

    // The job as it was last, in the user's own folder.
    void load();
    void save();

Q_SIGNALS:
    void openAsked(const QString &path);
    void addAsked();
    void deliverAsked(const QStringList &paths);
    void printAsked(const QStringList &paths);
    void compareAsked(const QString &left, const QString &right);
    void presetAsked(const QStringList &paths, const QPoint &at);
    void closeAsked();
    void failed(const buttonhole::Error &error);

protected:
    void keyPressEvent(QKeyEvent *event) override;
    void showEvent(QShowEvent *event) override;

private:
    void buildHead();
    void refreshHead();
    void wantSeen();
    void showMenu(const QPoint &at);
    QMenu *makeJobMenu();
    void saveAs();
    void openJob();

    Jobs &m_jobs;
    SheetModel m_model;
    SheetFilter m_filter;
    QListView *m_view;
    QLineEdit *m_text = nullptr;
    QComboBox *m_state = nullptr;
    QComboBox *m_order = nullptr;
    QLabel *m_count = nullptr;
    QLabel *m_empty = nullptr;
    QToolButton *m_deliver = nullptr;
    QToolButton *m_preset = nullptr;
    QAction *m_saveAs = nullptr;
    bool m_isSaving = false;
    bool m_savesAgain = false;
};

} // namespace buttonhole::app

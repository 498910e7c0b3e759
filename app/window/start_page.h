#pragma once

#include "jobs/jobs.h"

#include <QWidget>

class QGridLayout;
class QLabel;
class QToolButton;

namespace buttonhole::app
{

/// Where the canvas is while nothing is open: the last photos and works as pictures, or, the first
/// time, the demo photos.
class StartPage : public QWidget
{
    Q_OBJECT
public:
    StartPage(Jobs &jobs, QWidget *parent = nullptr);

    /// Files that are gone are left out. Pictures come as they are read.
    void setFiles(const QStringList &last);
    /// The photos to try the program on; empty where they are not installed.
    static QStringList demoPhotos();

Q_SIGNALS:
    void openAsked();
    void chosen(const QString &path);

protected:
    void paintEvent(QPaintEvent *event) override;

private:
    void offer(const QStringList &files, const QString &head);
    void readPictures();

    Jobs &m_jobs;
    QLabel *m_head;
    QGridLayout *m_grid;
    QToolButton *m_other; ///< to the demo photos, or back
    QStringList m_last;
    QStringList m_files;
    QList<QToolButton *> m_cards;
    uint64_t m_round = 0; ///< counts setFiles(): pictures of an older one are dropped
    std::stop_source m_reading;
};

} // namespace buttonhole::app

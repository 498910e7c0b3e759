#pragma once

#include "jobs/jobs.h"
#include "prepare/crop_hand.h"

#include <QWidget>

class QHBoxLayout;
class QLabel;
class QToolButton;

namespace buttonhole::app
{

/// Crops that hold the main subject well, as small pictures: pointing at one shows it on the
/// canvas, a click takes it.
class CropIdeasRow : public QWidget
{
    Q_OBJECT
public:
    CropIdeasRow(Session &session, Jobs &jobs, CropHand &hand, QWidget *parent);

protected:
    bool eventFilter(QObject *watched, QEvent *event) override;

private:
    struct Idea {
        Rect crop;
        QImage picture;
    };
    void find();
    void show(const std::vector<Idea> &ideas);
    void clear();

    Session &m_session;
    Jobs &m_jobs;
    CropHand &m_hand;
    QToolButton *m_find;
    QLabel *m_none;
    QHBoxLayout *m_row;
    QList<QToolButton *> m_buttons;
    QList<Rect> m_crops;
    std::stop_source m_finding;
};

} // namespace buttonhole::app

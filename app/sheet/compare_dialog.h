#pragma once

#include "jobs/jobs.h"

#include <QDialog>
#include <QImage>

namespace buttonhole::app
{

/// Two photos of the job side by side, each in the look of its take; frames are left out.
class CompareDialog : public QDialog
{
    Q_OBJECT
public:
    CompareDialog(Jobs &jobs, const QString &left, const QString &right, QWidget *parent);
    ~CompareDialog() override;
    const QImage &picture(int side) const { return m_sides[side].picture; }

protected:
    void paintEvent(QPaintEvent *event) override;

private:
    struct Side {
        QString name;
        QImage picture;
        QString problem;
        std::stop_source stop;
    };
    void load(Side &side, const QString &path, Jobs &jobs);
    Side m_sides[2];
};

} // namespace buttonhole::app

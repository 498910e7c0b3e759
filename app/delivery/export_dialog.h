#pragma once

#include "commands/session.h"
#include "job/delivery.h"
#include "jobs/jobs.h"

#include <QDialog>

class QCheckBox;
class QLabel;

namespace buttonhole::app
{

class PictureForm;

/// What an exported picture is to be; tells its size in pixels and bytes while settings change.
class ExportDialog : public QDialog
{
    Q_OBJECT
public:
    ExportDialog(const Session &session, Jobs &jobs, const Delivery &delivery, QWidget *parent);
    ~ExportDialog() override;
    /// Name and place in it mean nothing: they are asked for by the file.
    Delivery delivery() const;
    bool isOfAllTakes() const;

Q_SIGNALS:
    void exportAsked(const buttonhole::Delivery &delivery, bool ofAllTakes);

private:
    void measureSoon();
    void measure();

    const Session &m_session;
    Jobs &m_jobs;
    PictureForm *m_picture;
    QCheckBox *m_allTakes;
    QLabel *m_size;
    std::stop_source m_measuring;
    int m_measureNumber = 0;
};

} // namespace buttonhole::app

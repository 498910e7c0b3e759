#pragma once

#include "commands/session.h"
#include "export/export.h"
#include "jobs/jobs.h"

#include <QDialog>

class QCheckBox;
class QComboBox;
class QLabel;
class QSpinBox;

namespace buttonhole::app
{

class Slider;

/// What an exported picture is to be; tells its size in pixels and bytes while settings change.
class ExportDialog : public QDialog
{
    Q_OBJECT
public:
    ExportDialog(const Session &session, Jobs &jobs, const ExportSettings &settings,
                 QWidget *parent);
    ~ExportDialog() override;
    ExportSettings settings() const;

Q_SIGNALS:
    void exportAsked(const buttonhole::ExportSettings &settings);

private:
    void refresh();
    void measureSoon();
    void measure();

    const Session &m_session;
    Jobs &m_jobs;
    QComboBox *m_format;
    Slider *m_quality;
    QComboBox *m_bits;
    QCheckBox *m_resize;
    QSpinBox *m_longEdge;
    QComboBox *m_space;
    QCheckBox *m_strip;
    QLabel *m_size;
    std::stop_source m_measuring;
    int m_measureNumber = 0;
};

} // namespace buttonhole::app

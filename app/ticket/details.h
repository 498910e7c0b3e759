#pragma once

#include "commands/session.h"
#include "jobs/jobs.h"

#include <QWidget>

class QCheckBox;
class QGridLayout;
class QLabel;
class QLineEdit;

namespace buttonhole::app
{

class AdjustmentDetails;
class SignaturePanel;
class Slider;
class RemovalDetails;
class StepDetails;

/// Under the ticket: what can be set of the selected line.
class Details : public QWidget
{
    Q_OBJECT
public:
    Details(Session &session, Jobs &jobs, QWidget *parent = nullptr);
    void startRenaming();
    void startSigning(); ///< the selected signature's text is typed next
    StepDetails &stepDetails() { return *m_stepPart; }
    RemovalDetails &removalDetails() { return *m_removalPart; }
    /// Only what the selected keep keeps in colour; null where that is nothing.
    void setThumbnail(const QImage &picture);

private:
    void refresh();
    void addKeepControls();
    void addLook();
    void addGlow();
    QGridLayout *addPairs(const QString &head, QWidget *beside = nullptr);
    QWidget *makeLookStarts();
    void startLook(const char *start, const QString &name);
    void matchColour();
    Slider *addNumber(const QString &name, const QString &help, const char *id);

    Session &m_session;
    QLabel *m_title;
    QLabel *m_text;
    QWidget *m_keepPart;
    QLineEdit *m_name = nullptr;
    Slider *m_softEdge = nullptr;
    QCheckBox *m_softFound = nullptr;
    QCheckBox *m_invert = nullptr;
    QLabel *m_thumbnail = nullptr;
    QGridLayout *m_pairs = nullptr; ///< where the next sliders go, two to a row; null: one
    StepDetails *m_stepPart;
    SignaturePanel *m_signaturePart;
    AdjustmentDetails *m_adjustmentPart;
    RemovalDetails *m_removalPart;
    struct Bound {
        Slider *slider;
        const Param<Keep> *param;
    };
    QList<Bound> m_numbers;
};

} // namespace buttonhole::app

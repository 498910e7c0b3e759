#pragma once

#include "commands/session.h"
#include "jobs/jobs.h"
#include "light/signature.h"

#include <QTimer>
#include <QWidget>

#include <array>

class QButtonGroup;
class QCheckBox;
class QFontComboBox;
class QGridLayout;
class QLabel;
class QLineEdit;
class QToolButton;
class QVBoxLayout;

namespace buttonhole::app
{

/// What the selected signature says, or is drawn from, and at which of nine points it lies. Its
/// numbers are the sliders below.
class SignaturePanel : public QWidget
{
    Q_OBJECT
public:
    SignaturePanel(Session &session, Jobs &jobs, QWidget *parent);
    void refresh();
    void startTyping();

private:
    void addWords(QVBoxLayout &layout);
    void addPlaces(QVBoxLayout &layout);
    void addInks(QVBoxLayout &layout);
    QCheckBox *addInk(QVBoxLayout &layout, const char *number, const QString &name,
                      const QString &help);
    std::shared_ptr<const Signature> signature() const; ///< the selected; null: none
    void setWords(const SignatureWords &words, const QString &move, const QString &mergeKey = {});
    void setFont();
    void setNumber(const char *id, float value, const QString &move);
    void askForDrawing();
    /// Looks in the background whether it can be drawn, and takes it if so.
    void takeDrawing(const QString &path);
    void say(const QString &problem);

    Session &m_session;
    Jobs &m_jobs;
    QLineEdit *m_text = nullptr;
    QFontComboBox *m_family = nullptr;
    QToolButton *m_bold = nullptr;
    QToolButton *m_italic = nullptr;
    QToolButton *m_drawing = nullptr;
    QLabel *m_problem = nullptr;
    QCheckBox *m_byGround = nullptr;
    QCheckBox *m_ownColours = nullptr;
    std::array<QToolButton *, 9> m_places{};
};

} // namespace buttonhole::app

#pragma once

#include "commands/session.h"

#include <QWidget>

class QCheckBox;
class QComboBox;
class QPushButton;
class QToolButton;

namespace buttonhole::app
{

class Slider;

/// What can be set of the selected step: its sign, what its kind has, taking it out.
class StepDetails : public QWidget
{
    Q_OBJECT
public:
    StepDetails(Session &session, QWidget *parent);
    void refresh();

Q_SIGNALS:
    /// Of the selected region or subject. @param reach -1 smaller .. 1 larger
    void sizeAsked(float reach, bool isFinal);
    void growthAsked();

private:
    using Shape = std::shared_ptr<const StepShape>;
    struct Number {
        Slider *slider;
        std::string_view kind;
        size_t index; ///< among its kind's
        double factor;
    };
    struct Switch {
        QCheckBox *box;
        std::string kind;
        std::function<bool(const StepShape &)> get;
    };
    void addSigns();
    void addLimit();
    void refreshLimit();
    void refreshToLine();
    void addSwitches();
    void addNumbers(const StepKind &kind);
    void addRegion();
    template <class Step, class Data>
    void addSwitch(const char *kind, const QString &name, const QString &help,
                   Data (*dataOf)(const Step &), bool Data::*member);
    void put(const QString &text, const Shape &shape, const QString &mergeKey = {});

    Session &m_session;
    QList<QToolButton *> m_signs;
    QComboBox *m_limit = nullptr;
    QCheckBox *m_invert = nullptr;
    Slider *m_strength = nullptr;
    QPushButton *m_toLine = nullptr;
    Slider *m_size = nullptr;
    QPushButton *m_growAgain = nullptr;
    QList<Number> m_numbers;
    QList<Switch> m_switches;
};

} // namespace buttonhole::app

#pragma once

#include "commands/session.h"
#include "controls/slider.h"

#include <QWidget>

class QComboBox;
class QGridLayout;
class QVBoxLayout;

namespace buttonhole::app
{

/// The numbers of the selected local tone, its mask and its effects, or of the selected adjustment:
/// a slider for each row of their tables.
class AdjustmentDetails : public QWidget
{
    Q_OBJECT
public:
    AdjustmentDetails(Session &session, QWidget *parent = nullptr);
    void refresh();

private:
    void rebuild();
    void addMask(std::span<const Param<LocalTone>> params);
    void addActsOn();
    void addHead(const QString &text);
    void addNumbers(const Adjustment &adjustment, size_t index);
    struct Shown { ///< a number as its slider shows it
        QString name;
        QString id; ///< of the slider
        Slider::Range range;
        double factor = 1; ///< what is shown to what is stored
    };
    void beginGroup(size_t count);
    void place(QWidget *slider);
    void addSlider(const Shown &shown, const std::function<float()> &read,
                   const std::function<void(Take &, float)> &write);

    struct Bound {
        Slider *slider;
        std::function<double()> amount;
    };
    Session &m_session;
    QComboBox *m_actsOn = nullptr;
    QVBoxLayout *m_layout;
    QGridLayout *m_pairs = nullptr; ///< of the last group
    int m_place = 0;                ///< of its next slider
    QString m_shown;                ///< the kinds that there are sliders for
    QList<Bound> m_numbers;
};

} // namespace buttonhole::app

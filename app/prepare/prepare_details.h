#pragma once

#include "commands/session.h"
#include "controls/slider.h"
#include "jobs/jobs.h"
#include "prepare/clean_panel.h"
#include "prepare/crop_hand.h"
#include "prepare/neutral_pick.h"
#include "prepare/straighten_panel.h"

#include <QWidget>

class QCheckBox;
class QComboBox;
class QLabel;
class QSpinBox;
class QToolButton;
class QVBoxLayout;

namespace buttonhole::app
{

class TabbedPages;

/// The details of the Prepare line: crop, lens, light and what is mended, each on a page of its
/// own.
class PrepareDetails : public QWidget
{
    Q_OBJECT
public:
    enum Page { Crop, LensPage, Light, Clean };

    PrepareDetails(Session &session, Jobs &jobs, QWidget *parent = nullptr);

    void showPage(Page page);
    CropHand &crop() { return m_crop; }
    LevelHand &level() { return m_straighten->hand(); }
    CleanHand &clean() { return m_clean->hand(); }
    NeutralPick &neutral() { return m_neutral; }

Q_SIGNALS:
    void closeAsked();                    ///< the crop is as wanted
    void canvasAsked();                   ///< its keys are wanted next
    void lookAsked(const QPointF &photo); ///< a place is to be looked at closely
    void sharpnessAsked(bool shows);      ///< where it acts is to be seen
    void colourAsked(bool shows);         ///< the photo is to be seen before it goes grey

private:
    void addCrop();
    void addCropNumbers(QVBoxLayout *page);
    QWidget *makeDelivered();
    void deliver(int px, bool isWidth);
    void refreshDelivered(const PictureRect &crop);
    void addTurns(QVBoxLayout *page);
    void addLens();
    void addLight();
    void addClean();
    /// Sliders for the numbers of a kind, or for some of them.
    void addNumbers(QVBoxLayout *page, std::string_view kind, size_t first = 0, size_t end = 100);
    void edit(const QString &text, const std::function<void(Geometry &)> &change);
    void findLight();
    void refresh();
    void refreshCrop();
    void followLine();

    Session &m_session;
    Jobs &m_jobs;
    CropHand m_crop;
    NeutralPick m_neutral;
    TabbedPages *m_pages;
    QToolButton *m_auto = nullptr;
    QToolButton *m_pick = nullptr;
    QCheckBox *m_inColour = nullptr;
    QLabel *m_done = nullptr;
    struct Number { ///< of an adjustment, and its slider
        Slider *slider;
        std::string_view kind;
        size_t index;
        double factor; ///< what is shown to what is stored
    };
    QList<Number> m_numbers;
    QComboBox *m_ratio = nullptr;
    QComboBox *m_guides = nullptr;
    QSpinBox *m_width = nullptr;
    QSpinBox *m_height = nullptr;
    QSpinBox *m_deliverWidth = nullptr;
    QSpinBox *m_deliverHeight = nullptr;
    QLabel *m_enlarged = nullptr;
    QToolButton *m_mirror = nullptr;
    StraightenPanel *m_straighten = nullptr;
    CleanPanel *m_clean = nullptr;
    bool m_isRefreshing = false;
    std::stop_source m_finding;
};

} // namespace buttonhole::app

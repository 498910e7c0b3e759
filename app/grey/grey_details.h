#pragma once

#include "commands/session.h"
#include "controls/slider.h"
#include "grey/grey_drag.h"
#include "jobs/jobs.h"

#include <QTimer>
#include <QWidget>

#include <functional>

class QCheckBox;
class QComboBox;
class QLabel;
class QToolButton;
class QVBoxLayout;

namespace buttonhole::app
{

class HueCurveEditor;
class LooksGallery;
class TabbedPages;
class ToneGraph;

/// The details of the Grey line: looks, colours, tone and toning, each on a page of its own.
class GreyDetails : public QWidget
{
    Q_OBJECT
public:
    GreyDetails(Session &session, GreyDrag &drag, Jobs &jobs, QWidget *parent = nullptr);

    void showPage(int page); ///< 0 looks, 1 colours, 2 tone, 3 toning
    /// The mix that Split shows beside the present one; null: none.
    const std::shared_ptr<const GreyMix> &pinned() const { return m_pinned; }

Q_SIGNALS:
    void pinnedChanged();

private:
    Slider *addNumber(QVBoxLayout *page, const QString &name, const QString &help, const char *id);
    QCheckBox *addSwitch(QVBoxLayout *page, const QString &name, const QString &help,
                         const std::function<bool(const GreyMix &)> &get,
                         const std::function<void(GreyMix &, bool)> &set);
    void addHead(QVBoxLayout *layout);
    void addLooks();
    void addColours();
    void addTone();
    void addToning();
    // toning_page.cpp
    void addTonePart(QVBoxLayout *page, const QString &name, float Toning::*hue,
                     float Toning::*saturation, const char *saturationId);
    /// Shows one tone alone, well visible, while its hue is being chosen.
    void judgeTone(float Toning::*hue, float Toning::*saturation, double hueDeg);

    const GreyMix &mix() const { return m_session.take()->grey; }
    void edit(const QString &text, const std::function<void(GreyMix &)> &change,
              const QString &mergeKey = {}, const QString &value = {});
    void findAuto();
    void togglePin();
    void refresh();
    void refreshStatistics();
    void measureSoon();

    Session &m_session;
    GreyDrag &m_drag;
    Jobs &m_jobs;
    std::shared_ptr<const GreyMix> m_pinned;

    TabbedPages *m_pages;
    QList<std::function<void(const GreyMix &)>> m_refreshers;
    QToolButton *m_auto = nullptr;
    QToolButton *m_pin = nullptr;
    LooksGallery *m_looks = nullptr;
    QComboBox *m_base = nullptr;
    QWidget *m_blend = nullptr;
    HueCurveEditor *m_hues = nullptr;
    QComboBox *m_glass = nullptr;
    ToneGraph *m_graph = nullptr;
    QLabel *m_clipped = nullptr;
    QCheckBox *m_wholePicture = nullptr;
    QTimer m_measureTimer;
    bool m_isMeasuring = false;
    bool m_isStale = false;
    bool m_needsHues = false;
    std::stop_source m_finding;
};

} // namespace buttonhole::app

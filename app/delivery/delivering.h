#pragma once

#include "delivery/delivery_dialog.h"
#include "job/batch.h"
#include "jobs/jobs.h"

#include <QWidget>

#include <atomic>

class QLabel;
class QProgressBar;
class QToolButton;

namespace buttonhole::app
{

/// Many photos worked on in the background: how far it is, pause, stop, and a report.
class Delivering : public QWidget
{
    Q_OBJECT
public:
    Delivering(Jobs &jobs, QWidget *parent);

    bool isRunning() const { return m_isRunning; } ///< paused, too
    /// What is in hand is dropped, what is delivered stays.
    void stop();
    /// Asks how, then delivers. @param photos of the job; their works are taken where there are any
    void ask(const QStringList &photos);
    void deliver(const QStringList &photos, const Delivery &delivery);
    /// Puts a preset on photos, into works beside them.
    void apply(const QStringList &photos, const Preset &preset);

Q_SIGNALS:
    void delivered(const QString &photo);
    void applied(const QString &photo, bool wantsALook);
    void failed(const buttonhole::Error &error);

private:
    void keep(const QString &name, const Delivery &delivery);
    void offerKept(DeliveryDialog *dialog, const QPoint &at);
    /// Work in pieces: a piece returns when all is done, or it was stopped or paused.
    /// @param more is there something left?
    struct Order {
        std::function<void(const Run &)> work;
        std::function<bool()> more;
        std::function<void()> end; ///< tells what was done
    };
    void begin(const QString &what, int count);
    void run(const Order &order);
    void goOn();
    void step(const QString &name);
    void tell(const BatchReport &done, int count, const Delivery &delivery);
    void report(const QString &head, const QStringList &failures, const QStringList &looks,
                const std::function<void()> &again);

    Jobs &m_jobs;
    QLabel *m_text;
    QProgressBar *m_bar;
    QToolButton *m_pause;
    QToolButton *m_stopButton;
    std::shared_ptr<std::atomic<bool>> m_paused;
    std::stop_source m_stop;
    Order m_order;
    bool m_isWorking = false; ///< a thread does
    Delivery m_delivery;      ///< as it was last
    QString m_what;
    bool m_isRunning = false;
};

} // namespace buttonhole::app

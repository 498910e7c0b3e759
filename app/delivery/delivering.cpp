#include "delivery/delivering.h"

#include "controls/menu_button.h"
#include "controls/plain_details.h"
#include "document/preset_store.h"
#include "job/photo_job.h"

#include <QFileInfo>
#include <QHBoxLayout>
#include <QLabel>
#include <QMessageBox>
#include <QProgressBar>
#include <QPushButton>
#include <QToolButton>

namespace buttonhole::app
{

namespace
{

constexpr const char *kExportFolder = "How pictures leave";

/// One that memory runs out for does not stop the others.
Result<CarryReport> putOn(const QString &photo, const Preset &preset, const Run &run)
{
    try {
        return applyToFile(photo.toStdString(), preset, false, run);
    } catch (...) {
        return caughtError(photo.toStdString());
    }
}

QString fileName(const std::string &path)
{
    return QFileInfo(QString::fromStdString(path)).fileName();
}

} // namespace

Delivering::Delivering(Jobs &jobs, QWidget *parent)
    : QWidget(parent), m_jobs(jobs), m_text(new QLabel(this)), m_bar(new QProgressBar(this)),
      m_paused(std::make_shared<std::atomic<bool>>(false))
{
    setObjectName(QStringLiteral("delivering"));
    auto *row = new QHBoxLayout(this);
    row->setContentsMargins(16, 4, 12, 4);
    row->setSpacing(10);
    m_text->setTextFormat(Qt::PlainText);
    m_bar->setFixedWidth(260);
    m_bar->setTextVisible(false);
    m_pause = makeAccentButton(QStringLiteral("pauseDelivery"), tr("Pause"),
                               tr("Waits after the photo in hand"), this);
    m_pause->setCheckable(true);
    m_stopButton = makeAccentButton(QStringLiteral("stopDelivery"), tr("Stop"),
                                    tr("What is delivered stays; nothing is half-written"), this);
    row->addWidget(m_text, 1);
    row->addWidget(m_bar);
    row->addWidget(m_pause);
    row->addWidget(m_stopButton);
    connect(m_pause, &QToolButton::toggled, this, [this](bool pauses) {
        m_paused->store(pauses);
        m_pause->setText(pauses ? tr("Go on") : tr("Pause"));
        if (!pauses)
            goOn();
    });
    connect(m_stopButton, &QToolButton::clicked, this, &Delivering::stop);
    hide();
}

void Delivering::stop()
{
    m_stop.request_stop();
    if (m_isRunning)
        goOn(); // where it was paused: to tell what was done
}

void Delivering::run(const Order &order)
{
    m_order = order;
    m_isRunning = true;
    goOn();
}

/// A pause holds no thread: the work returns, and begins again where it was.
void Delivering::goOn()
{
    if (!m_isRunning || m_isWorking)
        return;
    m_isWorking = true;
    m_jobs.start(
        {},
        [work = m_order.work, stop = m_stop](const Run &job) {
            const std::stop_callback alsoThat(job.stop, [&stop] { stop.request_stop(); });
            Run run = job;
            run.stop = stop.get_token();
            work(run);
            return true;
        },
        [this, guard = QPointer<Delivering>(this)](bool) {
            if (!guard)
                return;
            m_isWorking = false;
            const bool isLeft = m_order.more() && !m_stop.stop_requested();
            if (isLeft && m_paused->load())
                return; // until it is to go on
            if (isLeft)
                return goOn();
            const auto end = m_order.end;
            m_order = {};
            m_isRunning = false;
            hide();
            end();
        });
}

void Delivering::ask(const QStringList &photos)
{
    if (photos.isEmpty() || m_isRunning)
        return;
    auto *dialog = new DeliveryDialog(photos, m_delivery, window());
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    connect(dialog, &QDialog::accepted, this,
            [this, dialog, photos] { deliver(photos, dialog->delivery()); });
    connect(dialog, &DeliveryDialog::keepAsked, this, &Delivering::keep);
    connect(dialog, &DeliveryDialog::keptAsked, this,
            [this, dialog](const QPoint &at) { offerKept(dialog, at); });
    dialog->open();
}

void Delivering::keep(const QString &name, const Delivery &delivery)
{
    Preset preset = plainPreset({}, name.toStdString());
    preset.exportJson = deliveryToJson(delivery);
    m_jobs.start(
        {}, [preset](const Run &) { return PresetStore::system().save(preset, kExportFolder); },
        [this, guard = QPointer<Delivering>(this)](const Result<std::string> &saved) {
            if (guard && !saved)
                Q_EMIT failed(saved.error());
        });
}

void Delivering::offerKept(DeliveryDialog *dialog, const QPoint &at)
{
    struct Kept {
        std::vector<std::pair<QString, Delivery>> all;
    };
    m_jobs.start(
        {},
        [](const Run &) {
            Kept out;
            for (const StoredPreset &each : PresetStore::system().list())
                if (!each.preset.exportJson.empty())
                    if (auto delivery = deliveryFromJson(each.preset.exportJson, each.path))
                        out.all.emplace_back(QString::fromStdString(each.preset.name), *delivery);
            return out;
        },
        [at, dialog = QPointer<DeliveryDialog>(dialog)](const Kept &kept) {
            if (!dialog)
                return;
            auto *menu = new QMenu(dialog);
            menu->setObjectName(QStringLiteral("keptMenu"));
            menu->setAttribute(Qt::WA_DeleteOnClose);
            for (const auto &[name, delivery] : kept.all)
                menu->addAction(name, dialog,
                                [dialog, use = delivery] { dialog->useDelivery(use); });
            if (kept.all.empty())
                menu->addAction(tr("None yet"))->setEnabled(false);
            menu->popup(at);
        });
}

void Delivering::begin(const QString &what, int count)
{
    m_what = what;
    m_stop = {};
    m_pause->setChecked(false);
    m_bar->setRange(0, count);
    m_bar->setValue(0);
    m_text->setText(what);
    show();
}

void Delivering::step(const QString &name)
{
    m_bar->setValue(m_bar->value() + 1);
    m_text->setText(
        tr("%1 · %2 of %3 · %4").arg(m_what).arg(m_bar->value()).arg(m_bar->maximum()).arg(name));
}

void Delivering::deliver(const QStringList &photos, const Delivery &delivery)
{
    if (m_isRunning)
        return;
    m_delivery = delivery;
    /// Touched by the work while it runs, by the window in between.
    struct State {
        BatchOrder order;
        QHash<QString, QString> photoOf; ///< by what is opened for it
        std::optional<Batch> batch;
        std::optional<Error> problem;
    };
    const auto state = std::make_shared<State>();
    state->order.delivery = delivery;
    state->order.workers = 2;
    begin(tr("Delivering"), int(photos.size()));
    BatchFollower follower;
    follower.pauses = [paused = m_paused] { return paused->load(); };
    follower.finished = [this, guard = QPointer<Delivering>(this),
                         state](size_t, const BatchResult &result) {
        const QString input = QString::fromStdString(result.task.input);
        const bool isDone = result.state == BatchResult::State::Done;
        QMetaObject::invokeMethod(qApp, [this, guard, name = fileName(result.task.input), isDone,
                                         photo = state->photoOf.value(input)] {
            if (!guard)
                return;
            step(name);
            if (isDone)
                Q_EMIT delivered(photo);
        });
    };
    Order order;
    order.work = [state, follower, photos](const Run &run) {
        try {
            if (!state->batch) {
                for (const QString &photo : photos) { // works are looked into for whose they are
                    const std::string input = toOpen(photo.toStdString());
                    state->order.inputs.push_back(input);
                    state->photoOf[QString::fromStdString(input)] = photo;
                }
                auto begun = Batch::begin(state->order);
                if (!begun) {
                    state->problem = begun.error();
                    return;
                }
                state->batch.emplace(std::move(*begun));
            }
            state->batch->deliver(follower, run);
        } catch (...) {
            state->problem = caughtError("delivery");
        }
    };
    order.more = [state] {
        return !state->problem &&
               (!state->batch || state->batch->report().count(BatchResult::State::Waiting) > 0);
    };
    order.end = [this, state, photos, delivery] {
        if (state->problem)
            return report(QString::fromStdString(sentence(*state->problem)), {}, {}, {});
        if (state->batch)
            tell(state->batch->report(), int(photos.size()), delivery);
    };
    run(order);
}

/// What a delivery came to.
void Delivering::tell(const BatchReport &done, int count, const Delivery &delivery)
{
    QStringList failures;
    QStringList again;
    for (const BatchResult &each : done.results)
        if (each.state == BatchResult::State::Failed) {
            failures += QString::fromStdString(sentence(each.error));
            again += QString::fromStdString(each.task.input);
        }
    QString head = tr("%1 of %2 delivered.").arg(done.count(BatchResult::State::Done)).arg(count);
    if (const size_t skipped = done.count(BatchResult::State::Skipped))
        head += tr(" %1 were there already.").arg(skipped);
    if (const size_t waiting = done.count(BatchResult::State::Waiting))
        head += tr(" %1 were not begun.").arg(waiting);
    report(
        head, failures, {}, again.isEmpty() ? std::function<void()>() : [this, again, delivery] {
            deliver(again, delivery);
        });
}

void Delivering::apply(const QStringList &photos, const Preset &preset)
{
    if (m_isRunning || photos.isEmpty())
        return;
    struct State {
        QStringList photos; ///< that are left
        QStringList failures;
        QStringList looks;
        int done = 0;
    };
    const auto state = std::make_shared<State>();
    state->photos = photos;
    begin(tr("Putting %1 on").arg(QString::fromStdString(preset.name)), int(photos.size()));
    Order order;
    order.work = [this, guard = QPointer<Delivering>(this), state, preset,
                  paused = m_paused](const Run &run) {
        while (!state->photos.isEmpty() && !run.stopped() && !paused->load()) {
            const QString photo = state->photos.front();
            Run quiet;
            quiet.stop = run.stop;
            const auto report = putOn(photo, preset, quiet);
            if (!report && report.error().kind == ErrorKind::Cancelled)
                return;
            state->photos.pop_front();
            const bool wantsALook = report && report->wantsALook();
            if (!report)
                state->failures += QString::fromStdString(sentence(report.error()));
            else
                ++state->done;
            if (wantsALook)
                state->looks += QFileInfo(photo).fileName();
            QMetaObject::invokeMethod(qApp,
                                      [this, guard, photo, wantsALook, isDone = bool(report)] {
                                          if (!guard)
                                              return;
                                          step(QFileInfo(photo).fileName());
                                          if (isDone)
                                              Q_EMIT applied(photo, wantsALook);
                                      });
        }
    };
    order.more = [state] { return !state->photos.isEmpty(); };
    order.end = [this, state, count = photos.size()] {
        report(tr("On %1 of %2 photos; each has a work beside it now.").arg(state->done).arg(count),
               state->failures, state->looks, {});
    };
    run(order);
}

void Delivering::report(const QString &head, const QStringList &failures, const QStringList &looks,
                        const std::function<void()> &again)
{
    auto *box = new QMessageBox(window());
    box->setAttribute(Qt::WA_DeleteOnClose);
    box->setObjectName(QStringLiteral("deliveryReport"));
    box->setWindowTitle(tr("Report"));
    box->setTextFormat(Qt::PlainText);
    box->setText(head);
    constexpr int kMostShown = 8;
    QStringList lines;
    if (!looks.isEmpty())
        lines += tr("Have a look at the masks of: %1").arg(looks.join(QStringLiteral(", ")));
    for (int i = 0; i < failures.size() && i < kMostShown; ++i)
        lines += failures[i];
    if (failures.size() > kMostShown) {
        lines += tr("and %1 more").arg(failures.size() - kMostShown);
        box->setDetailedText(failures.join(QLatin1Char('\n')));
    }
    box->setStyleSheet(QStringLiteral("QLabel#qt_msgbox_informativelabel { min-width: 400px; }"));
    setPlainDetails(*box, lines.join(QLatin1Char('\n')));
    box->addButton(tr("All right"), QMessageBox::AcceptRole);
    if (again) {
        auto *retry = box->addButton(tr("Try those again"), QMessageBox::ActionRole);
        retry->setObjectName(QStringLiteral("retryDelivery"));
        connect(retry, &QPushButton::clicked, this, again);
    }
    box->open();
}

} // namespace buttonhole::app

#include "delivery/delivering.h"

#include "controls/menu_button.h"
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
        m_paused->notify_all();
        m_pause->setText(pauses ? tr("Go on") : tr("Pause"));
    });
    connect(m_stopButton, &QToolButton::clicked, this, [this] {
        m_stop.request_stop();
        m_pause->setChecked(false);
    });
    hide();
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
    m_isRunning = true;
    m_what = what;
    m_stop = {};
    m_paused->store(false);
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

void Delivering::end()
{
    m_isRunning = false;
    hide();
}

void Delivering::deliver(const QStringList &photos, const Delivery &delivery)
{
    if (m_isRunning)
        return;
    m_delivery = delivery;
    BatchOrder order;
    order.delivery = delivery;
    order.workers = 2;
    QHash<QString, QString> photoOf;
    for (const QString &photo : photos) {
        const std::string input = toOpen(photo.toStdString());
        order.inputs.push_back(input);
        photoOf[QString::fromStdString(input)] = photo;
    }
    begin(tr("Delivering"), int(photos.size()));
    BatchFollower follower;
    follower.pause = [paused = m_paused] { paused->wait(true); };
    follower.finished = [this, guard = QPointer<Delivering>(this),
                         photoOf](size_t, const BatchResult &result) {
        const QString input = QString::fromStdString(result.task.input);
        const bool isDone = result.state == BatchResult::State::Done;
        QMetaObject::invokeMethod(qApp, [this, guard, name = fileName(result.task.input), isDone,
                                         photo = photoOf.value(input)] {
            if (!guard)
                return;
            step(name);
            if (isDone)
                Q_EMIT delivered(photo);
        });
    };
    m_stop = m_jobs.start(
        {}, [order, follower](const Run &run) { return runBatch(order, follower, run); },
        [this, guard = QPointer<Delivering>(this), photos,
         delivery](const Result<BatchReport> &done) {
            if (!guard)
                return;
            end();
            if (!done)
                return report(QString::fromStdString(sentence(done.error())), {}, {}, {});
            QStringList failures;
            QStringList again;
            for (const BatchResult &each : done->results)
                if (each.state == BatchResult::State::Failed) {
                    failures += QString::fromStdString(sentence(each.error));
                    again += QString::fromStdString(each.task.input);
                }
            QString head = tr("%1 of %2 delivered.")
                               .arg(done->count(BatchResult::State::Done))
                               .arg(photos.size());
            if (const size_t skipped = done->count(BatchResult::State::Skipped))
                head += tr(" %1 were there already.").arg(skipped);
            if (const size_t waiting = done->count(BatchResult::State::Waiting))
                head += tr(" %1 were not begun.").arg(waiting);
            report(
                head, failures, {},
                again.isEmpty() ? std::function<void()>()
                                : [this, again, delivery] { deliver(again, delivery); });
        });
}

void Delivering::apply(const QStringList &photos, const Preset &preset)
{
    if (m_isRunning || photos.isEmpty())
        return;
    struct Answer {
        QStringList failures;
        QStringList looks;
        int done = 0;
    };
    begin(tr("Putting %1 on").arg(QString::fromStdString(preset.name)), int(photos.size()));
    m_stop = m_jobs.start(
        {},
        [this, guard = QPointer<Delivering>(this), photos, preset,
         paused = m_paused](const Run &run) {
            Answer out;
            for (const QString &photo : photos) {
                paused->wait(true);
                if (run.stopped())
                    break;
                Run quiet;
                quiet.stop = run.stop;
                const auto report = applyToFile(photo.toStdString(), preset, false, quiet);
                if (!report && report.error().kind == ErrorKind::Cancelled)
                    break;
                const bool wantsALook = report && report->wantsALook();
                if (!report)
                    out.failures += QString::fromStdString(sentence(report.error()));
                else
                    ++out.done;
                if (wantsALook)
                    out.looks += QFileInfo(photo).fileName();
                QMetaObject::invokeMethod(qApp,
                                          [this, guard, photo, wantsALook, isDone = bool(report)] {
                                              if (!guard)
                                                  return;
                                              step(QFileInfo(photo).fileName());
                                              if (isDone)
                                                  Q_EMIT applied(photo, wantsALook);
                                          });
            }
            return out;
        },
        [this, guard = QPointer<Delivering>(this), count = photos.size()](const Answer &answer) {
            if (!guard)
                return;
            end();
            report(tr("On %1 of %2 photos; each has a work beside it now.")
                       .arg(answer.done)
                       .arg(count),
                   answer.failures, answer.looks, {});
        });
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
    box->setInformativeText(lines.join(QLatin1Char('\n')));
    box->addButton(tr("All right"), QMessageBox::AcceptRole);
    if (again) {
        auto *retry = box->addButton(tr("Try those again"), QMessageBox::ActionRole);
        retry->setObjectName(QStringLiteral("retryDelivery"));
        connect(retry, &QPushButton::clicked, this, again);
    }
    box->open();
}

} // namespace buttonhole::app

#include "presets/presets_drawer.h"

#include "commands/move_words.h"
#include "controls/file_dialog.h"
#include "controls/menu_button.h"
#include "controls/plain_tip.h"
#include "io/file.h"
#include "presets/preset_card.h"
#include "presets/preset_words.h"
#include "style/theme.h"

#include <QEvent>
#include <QHBoxLayout>
#include <QInputDialog>
#include <QKeyEvent>
#include <QListWidget>
#include <QMenu>
#include <QPointer>
#include <QToolButton>
#include <QVBoxLayout>

namespace buttonhole::app
{

namespace
{

constexpr int kIndexRole = Qt::UserRole;

/// Subjects of it are looked for, which takes a while.
bool isLookedFor(const Preset &preset)
{
    bool out = false;
    preset.take.visitMasks([&](const Mask &mask) {
        for (const Step &step : mask.steps)
            out = out || step.shape->kind() == "subject";
    });
    return out || !preset.seen.empty();
}

} // namespace

PresetsDrawer::PresetsDrawer(Session &session, Jobs &jobs, QWidget *parent)
    : QWidget(parent), m_session(session), m_jobs(jobs), m_list(new QListWidget(this))
{
    setObjectName(QStringLiteral("presetsDrawer"));
    auto *layout = new QVBoxLayout(this);
    layout->setContentsMargins(12, 0, 12, 4);
    layout->setSpacing(4);
    addHead();
    m_list->setObjectName(QStringLiteral("presets"));
    m_list->setAccessibleName(tr("Presets"));
    m_list->setProperty("framed", true);
    m_list->setMouseTracking(true);
    m_list->setContextMenuPolicy(Qt::CustomContextMenu);
    m_list->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    m_list->setMinimumHeight(160);
    m_list->viewport()->installEventFilter(this);
    m_list->installEventFilter(this);
    layout->addWidget(m_list);
    connect(m_list, &QListWidget::itemEntered, this, &PresetsDrawer::point);
    connect(m_list, &QListWidget::currentItemChanged, this, [this](QListWidgetItem *item) {
        if (m_list->hasFocus())
            point(item);
    });
    connect(m_list, &QListWidget::itemClicked, this, &PresetsDrawer::apply);
    connect(m_list, &QListWidget::customContextMenuRequested, this, &PresetsDrawer::showMenu);
}

void PresetsDrawer::addHead()
{
    auto *row = new QHBoxLayout;
    row->setSpacing(0);
    auto *save = makeAccentButton(QStringLiteral("savePreset"), tr("+ Preset"),
                                  tr("Keeps lines of this ticket under a name"), this);
    connect(save, &QToolButton::clicked, this, &PresetsDrawer::askToSave);
    auto *import = makeAccentButton(QStringLiteral("importPreset"), tr("From a file"),
                                    tr("Takes a preset in that somebody saved as a file"), this);
    connect(import, &QToolButton::clicked, this, &PresetsDrawer::askForFile);
    auto *back = makeAccentButton(QStringLiteral("takeBack"), tr("Take back"),
                                  tr("Makes one part of this ticket plain again"), this);
    auto *menu = new QMenu(back);
    menu->setObjectName(QStringLiteral("takeBackMenu"));
    connect(menu, &QMenu::aboutToShow, this, [this, menu] { fillTakeBack(*menu); });
    openBelow(back, menu);
    for (QToolButton *each : {save, import, back})
        row->addWidget(each);
    row->addStretch();
    static_cast<QVBoxLayout *>(layout())->addLayout(row);
}

void PresetsDrawer::refresh()
{
    struct Listed {
        std::vector<StoredPreset> all;
    };
    m_jobs.start(
        {}, [store = m_store](const Run &) { return Listed{store.list()}; },
        [this, guard = QPointer<PresetsDrawer>(this)](Listed listed) {
            if (guard)
                fill(std::move(listed.all));
        });
}

void PresetsDrawer::fill(std::vector<StoredPreset> all)
{
    m_all = std::move(all);
    m_list->clear();
    const auto addHeading = [this](const QString &text) {
        auto *item = new QListWidgetItem(text, m_list);
        item->setFlags(Qt::NoItemFlags);
        item->setFont(titleFont());
        item->setData(kIndexRole, -1);
    };
    QString last;
    for (size_t i = 0; i < m_all.size(); ++i) {
        const StoredPreset &each = m_all[i];
        if (each.problem.empty() && each.preset.groups.empty())
            continue; // it says only how pictures leave
        const QString folder = QString::fromStdString(each.folder);
        const QString heading = each.isShipped     ? tr("Ready made · %1").arg(folder)
                                : folder.isEmpty() ? tr("Your own")
                                                   : folder;
        if (heading != last)
            addHeading(heading);
        last = heading;
        auto *item = new QListWidgetItem(QString::fromStdString(each.preset.name), m_list);
        item->setData(kIndexRole, int(i));
        QStringList groups;
        for (const std::string &group : each.preset.groups)
            groups += groupName(group);
        const QString problem = QString::fromStdString(each.problem);
        item->setToolTip(plainTip(problem.isEmpty() ? groups.join(QStringLiteral(", ")) : problem));
        if (!problem.isEmpty())
            item->setForeground(palette().color(QPalette::Disabled, QPalette::Text));
    }
}

void PresetsDrawer::fillTakeBack(QMenu &menu)
{
    menu.clear();
    if (!m_session.hasPhoto())
        return;
    for (const TakeGroup &each : takeGroups()) {
        const std::string id(each.id);
        if (!each.isSet(*m_session.take()))
            continue;
        QAction *action = menu.addAction(groupName(id), this, [this, id] { takeBack(id); });
        action->setObjectName(QString::fromStdString(id));
    }
}

const StoredPreset *PresetsDrawer::presetOf(const QListWidgetItem *item) const
{
    const int index = item ? item->data(kIndexRole).toInt() : -1;
    return index >= 0 && size_t(index) < m_all.size() ? &m_all[size_t(index)] : nullptr;
}

void PresetsDrawer::point(const QListWidgetItem *item)
{
    const StoredPreset *stored = presetOf(item);
    if (!m_session.hasPhoto())
        return;
    if (!stored || !stored->problem.empty()) {
        if (m_isPreviewing)
            m_session.dropLive({});
        m_isPreviewing = false;
        return;
    }
    const Photo &photo = m_session.levels()->photo();
    std::vector<CarriedStep> ignored;
    m_isPreviewing = true;
    m_session.showLive(withPreset(m_session.work().take(), stored->preset,
                                  {photo.width, photo.height, false, {}}, ignored),
                       {});
}

void PresetsDrawer::apply(const QListWidgetItem *item)
{
    const StoredPreset *stored = presetOf(item);
    if (!stored || !m_session.hasPhoto())
        return;
    m_isPreviewing = false;
    if (!stored->problem.empty()) {
        Q_EMIT said(QString::fromStdString(stored->problem));
        return;
    }
    put(stored->preset);
}

void PresetsDrawer::put(const Preset &preset)
{
    if (isLookedFor(preset))
        return putFound(preset);
    const Photo &photo = m_session.levels()->photo();
    CarryReport report;
    Take made = withPreset(m_session.work().take(), preset, {photo.width, photo.height, false, {}},
                           report.steps);
    m_session.edit(tr("Preset %1").arg(QString::fromStdString(preset.name)), std::move(made));
    Q_EMIT said(wordsOf(report));
}

void PresetsDrawer::putFound(const Preset &preset)
{
    struct Made {
        Made() = default; // of an Error alone it is not made
        Result<Take> take = Error{ErrorKind::Cancelled, {}, {}};
        CarryReport report;
    };
    m_session.dropLive({});
    const auto before = m_session.work().takes[m_session.work().current];
    m_jobs.start(
        tr("Looking for what it keeps…"),
        [levels = m_session.levels(), before, preset](const Run &run) {
            Made out;
            out.take = withPresetOn(*before, preset, *levels, false, out.report, run);
            return out;
        },
        [this, guard = QPointer<PresetsDrawer>(this), before,
         name = QString::fromStdString(preset.name)](Made made) {
            if (!guard)
                return;
            const bool isCancelled = !made.take && made.take.error().kind == ErrorKind::Cancelled;
            const Work &work = m_session.work();
            if (isCancelled || work.takes[work.current] != before) // somebody went on
                return;
            if (!made.take) {
                Q_EMIT failed(made.take.error());
                return;
            }
            m_session.edit(tr("Preset %1").arg(name), std::move(*made.take));
            Q_EMIT said(wordsOf(made.report));
        });
}

void PresetsDrawer::takeBack(const std::string &group)
{
    const Photo &photo = m_session.levels()->photo();
    std::vector<CarriedStep> ignored;
    m_session.edit(tr("%1 taken back").arg(groupName(group)),
                   withPreset(m_session.work().take(), plainPreset({group}, "plain"),
                              {photo.width, photo.height, false, {}}, ignored));
}

QStringList PresetsDrawer::folders() const
{
    QStringList out;
    for (const StoredPreset &each : m_all)
        if (const QString folder = QString::fromStdString(each.folder);
            !each.isShipped && !folder.isEmpty() && !out.contains(folder))
            out += folder;
    return out;
}

void PresetsDrawer::askToSave()
{
    if (!m_session.hasPhoto())
        return;
    auto *card = new PresetCard(*m_session.take(), folders(), window());
    card->setAttribute(Qt::WA_DeleteOnClose);
    connect(card, &QDialog::accepted, this,
            [this, card] { save(card->name(), card->folder(), card->groups()); });
    card->open();
}

void PresetsDrawer::save(const QString &name, const QString &folder,
                         std::vector<std::string> groups)
{
    const auto make = [levels = m_session.levels(), take = m_session.take(), groups,
                       name = name.toStdString(),
                       folder = folder.toStdString()](const PresetStore &store) -> Result<void> {
        const auto saved = store.save(buttonhole::presetOf(*take, groups, name, *levels), folder);
        return saved ? Result<void>() : saved.error();
    };
    change(make, tr("Preset %1 saved.").arg(name));
}

void PresetsDrawer::change(const std::function<Result<void>(const PresetStore &)> &what,
                           const QString &done)
{
    m_jobs.start(
        {}, [store = m_store, what](const Run &) { return what(store); },
        [this, guard = QPointer<PresetsDrawer>(this), done](const Result<void> &result) {
            if (!guard)
                return;
            refresh();
            if (result)
                Q_EMIT said(done);
            else
                Q_EMIT failed(result.error());
        });
}

void PresetsDrawer::askForFile()
{
    auto *dialog = newFileDialog(window(), tr("A preset's file"), {}, tr("Presets (*.json)"));
    dialog->setObjectName(QStringLiteral("presetFileDialog"));
    dialog->setFileMode(QFileDialog::ExistingFile);
    connect(dialog, &QFileDialog::fileSelected, this, [this](const QString &path) {
        change(
            [path = path.toStdString()](const PresetStore &store) -> Result<void> {
                std::vector<std::string> ignored;
                const auto preset = readPresetFile(path, ignored);
                if (!preset)
                    return preset.error();
                const auto saved = store.save(*preset);
                return saved ? Result<void>() : saved.error();
            },
            tr("The preset is among your own now."));
    });
    dialog->open();
}

void PresetsDrawer::showMenu(const QPoint &at)
{
    const StoredPreset *stored = presetOf(m_list->itemAt(at));
    if (!stored)
        return;
    auto *menu = new QMenu(this);
    menu->setObjectName(QStringLiteral("presetMenu"));
    menu->setAttribute(Qt::WA_DeleteOnClose);
    const StoredPreset copy = *stored;
    const QString name = QString::fromStdString(copy.preset.name);
    const bool isWhole = copy.problem.empty();
    const auto add = [&](const QString &text, const char *id, auto what) {
        QAction *action = menu->addAction(text, this, what);
        action->setObjectName(QLatin1String(id));
        return action;
    };
    if (!copy.isShipped) {
        add(tr("Set as this ticket is"), "update", [this, copy, name] {
            save(name, QString::fromStdString(copy.folder), copy.preset.groups);
        })->setEnabled(isWhole && m_session.hasPhoto());
        add(tr("Rename…"), "rename", [this, copy] { rename(copy); })->setEnabled(isWhole);
        QMenu *to = menu->addMenu(tr("Move to"));
        to->setEnabled(isWhole);
        for (const QString &folder : QStringList{QString()} + folders())
            to->addAction(folder.isEmpty() ? tr("No folder") : folder, this, [this, copy, folder] {
                change(
                    [copy,
                     folder = folder.toStdString()](const PresetStore &store) -> Result<void> {
                        const auto moved = store.move(copy, copy.preset.name, folder);
                        return moved ? Result<void>() : moved.error();
                    },
                    tr("Moved."));
            });
    }
    add(tr("Save as a file…"), "export", [this, copy] { exportTo(copy); })->setEnabled(isWhole);
    if (!copy.isShipped) {
        menu->addSeparator();
        add(tr("Delete"), "delete", [this, copy, name] {
            change([copy](const PresetStore &store) { return store.remove(copy); },
                   tr("Preset %1 deleted.").arg(name));
        });
    }
    menu->popup(m_list->viewport()->mapToGlobal(at));
}

void PresetsDrawer::rename(const StoredPreset &stored)
{
    auto *dialog = new QInputDialog(window());
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    dialog->setObjectName(QStringLiteral("presetRename"));
    dialog->setWindowTitle(tr("Rename preset"));
    dialog->setLabelText(tr("Name"));
    dialog->setTextValue(QString::fromStdString(stored.preset.name));
    connect(dialog, &QInputDialog::textValueSelected, this, [this, stored](const QString &name) {
        change(
            [stored,
             name = name.trimmed().toStdString()](const PresetStore &store) -> Result<void> {
                const auto moved = store.move(stored, name, stored.folder);
                return moved ? Result<void>() : moved.error();
            },
            tr("Renamed."));
    });
    dialog->open();
}

void PresetsDrawer::exportTo(const StoredPreset &stored)
{
    auto *dialog = newFileDialog(window(), tr("Save the preset"), {}, tr("Presets (*.json)"));
    dialog->setAcceptMode(QFileDialog::AcceptSave);
    dialog->setDefaultSuffix(QStringLiteral("json"));
    dialog->selectFile(QString::fromStdString(stored.preset.name) + QStringLiteral(".json"));
    connect(dialog, &QFileDialog::fileSelected, this, [this, stored](const QString &path) {
        change(
            [stored, path = path.toStdString()](const PresetStore &) {
                const std::string text = presetToText(stored.preset);
                return writeBytesAtomically(path, text.data(), text.size());
            },
            tr("The preset is saved as a file."));
    });
    dialog->open();
}

bool PresetsDrawer::eventFilter(QObject *watched, QEvent *event)
{
    if (watched == m_list->viewport() && event->type() == QEvent::Leave)
        point(nullptr);
    if (watched == m_list && event->type() == QEvent::FocusOut)
        point(nullptr);
    if (watched == m_list && event->type() == QEvent::KeyPress) {
        const int key = static_cast<QKeyEvent *>(event)->key();
        if (key == Qt::Key_Return || key == Qt::Key_Enter) {
            apply(m_list->currentItem());
            return true;
        }
        if (key == Qt::Key_Escape) {
            Q_EMIT closeAsked();
            return true;
        }
    }
    return QWidget::eventFilter(watched, event);
}

void PresetsDrawer::showEvent(QShowEvent *event)
{
    QWidget::showEvent(event);
    refresh();
}

void PresetsDrawer::hideEvent(QHideEvent *event)
{
    point(nullptr);
    QWidget::hideEvent(event);
}

} // namespace buttonhole::app

// The main window's other room: the sheet of the job's photos, and what is done to many of them.
#include "window/main_window.h"

#include "delivery/delivering.h"
#include "delivery/printing.h"
#include "document/preset_store.h"
#include "presets/preset_card.h"
#include "presets/presets_drawer.h"
#include "sheet/compare_dialog.h"
#include "sheet/sheet.h"
#include "window/status_row.h"

#include <QMenu>
#include <QPointer>
#include <QVBoxLayout>

namespace buttonhole::app
{

void MainWindow::buildSheet(QVBoxLayout &rows, QWidget *centre)
{
    m_sheet = new Sheet(m_jobs, centre);
    m_sheet->hide();
    rows.addWidget(m_sheet, 1);
    m_delivering = new Delivering(m_jobs, centre);
    rows.addWidget(m_delivering);
    QAction *action = m_actions["sheet"];
    connect(action, &QAction::toggled, this, [this](bool shows) {
        m_columns->setVisible(!shows);
        m_sheet->setVisible(shows);
        m_status->setShowsCanvas(!shows);
        m_actions["print"]->setEnabled(shows || m_session.hasPhoto());
        if (shows)
            m_sheet->show(m_session.photoPath());
        else
            m_canvas->setFocus(Qt::OtherFocusReason);
    });
    connect(m_sheet, &Sheet::closeAsked, action, [action] { action->setChecked(false); });
    connect(m_sheet, &Sheet::openAsked, this, [this, action](const QString &path) {
        action->setChecked(false);
        m_opening->openPath(QString::fromStdString(toOpen(path.toStdString())));
    });
    connect(m_sheet, &Sheet::addAsked, this, [this] { m_opening->choose(); });
    connect(m_sheet, &Sheet::deliverAsked, this, &MainWindow::deliverMany);
    connect(m_sheet, &Sheet::failed, this, &MainWindow::showError);
    connect(m_sheet, &Sheet::printAsked, this, &MainWindow::printMany);
    connect(m_sheet, &Sheet::compareAsked, this, [this](const QString &left, const QString &right) {
        auto *dialog = new CompareDialog(m_jobs, left, right, this);
        dialog->setAttribute(Qt::WA_DeleteOnClose);
        dialog->open();
    });
    m_printing = new Printing(m_jobs, this);
    connect(m_printing, &Printing::said, this,
            [this](const QString &text) { m_status->say(text); });
    connect(m_printing, &Printing::failed, this, &MainWindow::showError);
    connect(m_sheet, &Sheet::presetAsked, this, &MainWindow::choosePresetFor);
    connect(m_delivering, &Delivering::delivered, this, [this](const QString &photo) {
        m_sheet->model().mark(photo, [](JobPhoto &each) { each.isDelivered = true; });
    });
    connect(m_delivering, &Delivering::failed, this, &MainWindow::showError);
    connect(m_delivering, &Delivering::applied, this, [this](const QString &photo, bool looks) {
        m_sheet->model().mark(photo, [looks](JobPhoto &each) {
            each.isDelivered = false;
            each.wantsALook = looks;
        });
    });
    connect(&m_session, &Session::fileChanged, this, &MainWindow::noteWorking);
}

/// Ways between the sheet and what opens photos.
void MainWindow::connectJob()
{
    connect(m_opening.get(), &Opening::jobGiven, this, &MainWindow::takeJob);
    connect(&m_sheet->model(), &SheetModel::jobChanged, this, [this] {
        QStringList photos;
        for (const JobPhoto &photo : m_sheet->model().job().photos)
            photos += QString::fromStdString(photo.path);
        m_opening->setJob(photos);
    });
    m_sheet->load();
}

/// What was dropped or chosen: one photo is opened, more make a job, a folder is looked at.
void MainWindow::takeJob(const PhotoJob &job, bool isWhole)
{
    if (m_sheet->isVisible()) {
        m_sheet->add(job);
        return;
    }
    if (isWhole || job.photos.size() > 1)
        m_sheet->model().setJob(job);
    if (isWhole)
        m_actions["sheet"]->setChecked(true);
    else if (!job.photos.empty())
        m_opening->openPath(QString::fromStdString(job.photos.front().path));
}

/// The sheet says of the open photo how far it is.
void MainWindow::noteWorking()
{
    const QString photo = m_session.hasPhoto() ? m_session.photoPath() : QString();
    const bool isUnsaved = m_session.isUnsaved();
    m_sheet->model().setWorking(isUnsaved ? photo : QString());
    if (isUnsaved == m_wasUnsaved)
        return;
    m_wasUnsaved = isUnsaved;
    m_sheet->model().mark(
        photo, [isUnsaved](JobPhoto &each) { each.isDelivered = each.isDelivered && !isUnsaved; });
}

/// What is delivered is what is saved.
void MainWindow::deliverMany(const QStringList &photos)
{
    if (m_session.isUnsaved() && photos.contains(m_session.photoPath()))
        m_saving.afterUnsaved([this, photos] { m_delivering->ask(photos); });
    else
        m_delivering->ask(photos);
}

/// The open photo, or what is chosen on the sheet.
void MainWindow::print()
{
    if (m_sheet->isVisible())
        return printMany(m_sheet->chosen()); // all, where none is
    Printing::Pictures pictures;
    pictures.name = QFileInfo(m_session.photoPath()).completeBaseName() + tr("-keep");
    const auto [width, height] = exportedSize(*m_session.take(), m_session.picture().rect());
    pictures.pixels = {width, height};
    pictures.render = [levels = m_session.levels(), take = m_session.take()](
                          const PrintPage &page, size_t index, const Run &run) {
        return pictureForPrint(*levels, *take, page, index, run);
    };
    m_printing->ask(pictures);
}

void MainWindow::printMany(const QStringList &photos)
{
    if (photos.isEmpty())
        return;
    const auto go = [this, photos] {
        Printing::Pictures pictures;
        pictures.count = int(photos.size());
        pictures.name = tr("Sheet");
        std::vector<std::string> inputs;
        for (const QString &photo : photos)
            inputs.push_back(toOpen(photo.toStdString()));
        pictures.render = [inputs](const PrintPage &page, size_t index, const Run &run) {
            return fileForPrint(inputs[index], {}, page, index, run);
        };
        m_printing->ask(pictures);
    };
    if (m_session.isUnsaved() && photos.contains(m_session.photoPath()))
        m_saving.afterUnsaved(go);
    else
        go();
}

void MainWindow::choosePresetFor(const QStringList &photos, const QPoint &at)
{
    struct Listed {
        std::vector<StoredPreset> all;
    };
    m_jobs.start(
        {}, [](const Run &) { return Listed{PresetStore::system().list()}; },
        [this, photos, at](const Listed &listed) {
            auto *menu = new QMenu(this);
            menu->setObjectName(QStringLiteral("presetForMany"));
            menu->setAttribute(Qt::WA_DeleteOnClose);
            menu->addAction(tr("What the open photo has…"), this,
                            [this, photos] { applyOwnTo(photos); })
                ->setEnabled(m_session.hasPhoto());
            menu->addSeparator();
            for (const StoredPreset &each : listed.all)
                if (each.problem.empty() && !each.preset.groups.empty())
                    menu->addAction(
                        QString::fromStdString(each.preset.name), this,
                        [this, photos, preset = each.preset] { applyTo(photos, preset); });
            menu->popup(at);
        });
}

/// The open photo is worked on here, the others in their files.
void MainWindow::applyTo(QStringList photos, const Preset &preset)
{
    if (m_session.hasPhoto() && photos.removeAll(m_session.photoPath()) > 0)
        m_presets->put(preset);
    m_delivering->apply(photos, preset);
}

/// The same again: parts of the open photo's ticket onto others.
void MainWindow::applyOwnTo(const QStringList &photos)
{
    QStringList others = photos;
    others.removeAll(m_session.photoPath());
    auto *card = new PresetCard(*m_session.take(), this);
    card->setAttribute(Qt::WA_DeleteOnClose);
    connect(card, &QDialog::accepted, this, [this, card, others] {
        struct Made {
            Preset preset;
        };
        const QString name = QString::fromStdString(m_session.take()->name);
        m_jobs.start(
            {},
            [levels = m_session.levels(), take = m_session.take(), groups = card->groups(),
             name = name.toStdString()](const Run &) {
                return Made{presetOf(*take, groups, name, *levels)};
            },
            [this, others](const Made &made) { m_delivering->apply(others, made.preset); });
    });
    card->open();
}

} // namespace buttonhole::app

#include "sheet/sheet.h"

#include "controls/file_dialog.h"
#include "controls/menu_button.h"
#include "io/file.h"
#include "style/theme.h"

#include <QComboBox>
#include <QDir>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QLineEdit>
#include <QListView>
#include <QMenu>
#include <QPainter>
#include <QPointer>
#include <QScrollBar>
#include <QSet>
#include <QStandardPaths>
#include <QStyledItemDelegate>
#include <QTimer>
#include <QVBoxLayout>

namespace buttonhole::app
{

namespace
{

constexpr QSize kCell(196, 186);
constexpr QSize kRoom = SheetModel::kRoom;

/// A photo as the sheet shows it: picture, name, state in words.
class PhotoDelegate : public QStyledItemDelegate
{
public:
    using QStyledItemDelegate::QStyledItemDelegate;

    QSize sizeHint(const QStyleOptionViewItem &, const QModelIndex &) const override
    {
        return kCell;
    }

    void paint(QPainter *painter, const QStyleOptionViewItem &option,
               const QModelIndex &index) const override
    {
        const Felt &colours = felt();
        painter->save();
        painter->setRenderHints(QPainter::Antialiasing | QPainter::SmoothPixmapTransform);
        const QRect cell = option.rect.adjusted(4, 4, -4, -4);
        const bool isSelected = option.state.testFlag(QStyle::State_Selected);
        if (isSelected || option.state.testFlag(QStyle::State_MouseOver)) {
            painter->setPen(Qt::NoPen);
            painter->setBrush(colours.card);
            painter->drawRoundedRect(cell, 6, 6);
        }
        if (isSelected) {
            painter->setPen(QPen(colours.thread, 2));
            painter->setBrush(Qt::NoBrush);
            painter->drawRoundedRect(cell, 6, 6);
        }
        const QRect room(cell.left() + (cell.width() - kRoom.width()) / 2, cell.top() + 6,
                         kRoom.width(), kRoom.height());
        const auto image = index.data(SheetModel::PictureRole).value<QImage>();
        if (image.isNull()) {
            painter->setPen(Qt::NoPen);
            painter->setBrush(colours.line);
            painter->drawRoundedRect(room.adjusted(20, 16, -20, -16), 4, 4);
        } else {
            const QSize size = image.deviceIndependentSize().toSize();
            painter->drawImage(QRect(room.left() + (room.width() - size.width()) / 2,
                                     room.top() + (room.height() - size.height()) / 2, size.width(),
                                     size.height()),
                               image);
        }
        const QRect name(cell.left() + 8, room.bottom() + 4, cell.width() - 16, 16);
        painter->setPen(colours.ink);
        painter->setFont(option.font);
        painter->drawText(
            name, Qt::AlignHCenter | Qt::AlignVCenter,
            option.fontMetrics.elidedText(index.data().toString(), Qt::ElideMiddle, name.width()));
        const bool wantsALook = index.data(SheetModel::LookRole).toBool();
        const auto state = SheetModel::State(index.data(SheetModel::StateRole).toInt());
        painter->setPen(wantsALook ? colours.threadInk : colours.softInk);
        painter->drawText(name.translated(0, 17), Qt::AlignHCenter | Qt::AlignVCenter,
                          wantsALook ? SheetModel::tr("wants a look")
                                     : SheetModel::stateWord(state));
        painter->restore();
    }
};

QString jobFile()
{
    return QStandardPaths::writableLocation(QStandardPaths::GenericDataLocation) +
           QStringLiteral("/buttonhole/job.json");
}

} // namespace

Sheet::Sheet(Jobs &jobs, QWidget *parent)
    : QWidget(parent), m_jobs(jobs), m_view(new QListView(this)), m_empty(new QLabel(this))
{
    setObjectName(QStringLiteral("sheet"));
    auto *layout = new QVBoxLayout(this);
    layout->setContentsMargins(12, 8, 12, 4);
    layout->setSpacing(8);
    buildHead();
    m_filter.setSourceModel(&m_model);
    m_filter.sortByTime(false);
    m_view->setObjectName(QStringLiteral("sheetView"));
    m_view->setAccessibleName(tr("Photos of the job"));
    m_view->setModel(&m_filter);
    m_view->setItemDelegate(new PhotoDelegate(m_view));
    m_view->setViewMode(QListView::IconMode);
    m_view->setResizeMode(QListView::Adjust);
    m_view->setMovement(QListView::Static);
    m_view->setUniformItemSizes(true);
    m_view->setGridSize(kCell);
    m_view->setSelectionMode(QAbstractItemView::ExtendedSelection);
    m_view->setVerticalScrollMode(QAbstractItemView::ScrollPerPixel);
    m_view->verticalScrollBar()->setSingleStep(40);
    m_view->setFrameShape(QFrame::NoFrame);
    m_view->setMouseTracking(true);
    m_view->setContextMenuPolicy(Qt::CustomContextMenu);
    layout->addWidget(m_view, 1);
    m_empty->setAlignment(Qt::AlignCenter);
    m_empty->setText(tr("Drop photos or a folder here, or add some: they make a job."));
    layout->addWidget(m_empty, 1);
    const auto open = [this](const QModelIndex &index) {
        if (isVisible()) // both may come of one double click
            Q_EMIT openAsked(index.data(SheetModel::PathRole).toString());
    };
    connect(m_view, &QListView::doubleClicked, this, open);
    connect(m_view, &QListView::activated, this, open);
    connect(m_view, &QListView::customContextMenuRequested, this, &Sheet::showMenu);
    connect(m_view->verticalScrollBar(), &QScrollBar::valueChanged, this, &Sheet::wantSeen);
    connect(m_view->selectionModel(), &QItemSelectionModel::selectionChanged, this,
            &Sheet::refreshHead);
    connect(&m_model, &SheetModel::jobChanged, this, &Sheet::refreshHead);
    connect(&m_model, &SheetModel::jobChanged, this, &Sheet::save);
    connect(&m_model, &SheetModel::progressed, this, &Sheet::refreshHead);
    refreshHead();
}

void Sheet::buildHead()
{
    auto *row = new QHBoxLayout;
    row->setSpacing(8);
    auto *head = new QLabel(tr("Sheet"), this);
    head->setFont(titleFont());
    row->addWidget(head);
    m_count = new QLabel(this);
    m_count->setObjectName(QStringLiteral("sheetCount"));
    row->addWidget(m_count);
    row->addStretch();
    m_text = new QLineEdit(this);
    m_text->setObjectName(QStringLiteral("sheetText"));
    m_text->setPlaceholderText(tr("Part of a name"));
    m_text->setAccessibleName(tr("Part of a name"));
    m_text->setClearButtonEnabled(true);
    m_text->setFixedWidth(150);
    connect(m_text, &QLineEdit::textChanged, this, [this](const QString &text) {
        m_filter.setText(text);
        refreshHead();
    });
    row->addWidget(m_text);
    m_state = new QComboBox(this);
    m_state->setObjectName(QStringLiteral("sheetState"));
    m_state->setAccessibleName(tr("State"));
    m_state->addItem(tr("All"), -1);
    for (const auto state :
         {SheetModel::Untouched, SheetModel::Working, SheetModel::Saved, SheetModel::Delivered})
        m_state->addItem(SheetModel::stateWord(state), int(state));
    m_state->addItem(tr("wants a look"), -2);
    connect(m_state, &QComboBox::currentIndexChanged, this, [this] {
        m_filter.setState(m_state->currentData().toInt());
        refreshHead();
    });
    row->addWidget(m_state);
    m_order = new QComboBox(this);
    m_order->setObjectName(QStringLiteral("sheetOrder"));
    m_order->setAccessibleName(tr("Order"));
    m_order->addItems({tr("By name"), tr("By time")});
    connect(m_order, &QComboBox::currentIndexChanged, this,
            [this](int index) { m_filter.sortByTime(index == 1); });
    row->addWidget(m_order);
    auto *job = makeAccentButton(QStringLiteral("sheetJob"), tr("Job"),
                                 tr("Keeps this job in a file, or empties it"), this);
    openBelow(job, makeJobMenu());
    row->addWidget(job);
    auto *add = makeAccentButton(QStringLiteral("sheetAdd"), tr("+ Photos"),
                                 tr("More photos for this job"), this);
    connect(add, &QToolButton::clicked, this, &Sheet::addAsked);
    row->addWidget(add);
    m_preset = makeAccentButton(QStringLiteral("sheetPreset"), tr("Preset"),
                                tr("Puts a preset on what is selected, or on all"), this);
    connect(m_preset, &QToolButton::clicked, this, [this] {
        Q_EMIT presetAsked(chosen(), m_preset->mapToGlobal(QPoint(0, m_preset->height())));
    });
    row->addWidget(m_preset);
    m_deliver = makeAccentButton(QStringLiteral("sheetDeliver"), tr("Deliver…"),
                                 tr("Writes pictures of what is selected, or of all"), this);
    connect(m_deliver, &QToolButton::clicked, this, [this] { Q_EMIT deliverAsked(chosen()); });
    row->addWidget(m_deliver);
    static_cast<QVBoxLayout *>(layout())->addLayout(row);
}

QMenu *Sheet::makeJobMenu()
{
    auto *menu = new QMenu(this);
    menu->setObjectName(QStringLiteral("jobMenu"));
    m_saveAs = menu->addAction(tr("Save this job as…"), this, &Sheet::saveAs);
    menu->addAction(tr("Open a job…"), this, &Sheet::openJob);
    menu->addSeparator();
    menu->addAction(tr("Empty the job"), this, [this] { m_model.setJob({}); })
        ->setToolTip(tr("The files stay where they are"));
    return menu;
}

void Sheet::saveAs()
{
    auto *dialog = newFileDialog(this, tr("Save this job"), {}, QStringLiteral("*.buttonhole-job"));
    dialog->setAcceptMode(QFileDialog::AcceptSave);
    dialog->setDefaultSuffix(QStringLiteral("buttonhole-job"));
    connect(dialog, &QFileDialog::fileSelected, this, [this](const QString &path) {
        m_jobs.start(
            {},
            [job = m_model.job(), path = path.toStdString()](const Run &) {
                return saveJob(job, path);
            },
            [this, guard = QPointer<Sheet>(this)](const Result<void> &saved) {
                if (guard && !saved)
                    Q_EMIT failed(saved.error());
            });
    });
    dialog->open();
}

/// In the place of this one.
void Sheet::openJob()
{
    auto *dialog = newFileDialog(this, tr("Open a job"), {}, QStringLiteral("*.buttonhole-job"));
    connect(dialog, &QFileDialog::fileSelected, this, [this](const QString &path) {
        m_jobs.start(
            {}, [path = path.toStdString()](const Run &) { return readJob(path); },
            [this, guard = QPointer<Sheet>(this)](const Result<PhotoJob> &job) {
                if (!guard)
                    return;
                if (job)
                    m_model.setJob(*job);
                else
                    Q_EMIT failed(job.error());
            });
    });
    dialog->open();
}

void Sheet::refreshHead()
{
    const int all = m_model.rowCount();
    const int seen = m_filter.rowCount();
    const auto selected =
        m_view->selectionModel() ? m_view->selectionModel()->selectedIndexes().size() : 0;
    QString text = all == seen ? tr("%1 in the job").arg(all) : tr("%1 of %2").arg(seen).arg(all);
    if (selected > 0)
        text += tr(", %1 selected").arg(selected);
    if (m_model.pending() > 0)
        text += tr(" · %1 pictures to come").arg(m_model.pending());
    m_count->setText(all == 0 ? QString() : text);
    m_view->setVisible(all > 0);
    m_empty->setVisible(all == 0);
    m_deliver->setEnabled(seen > 0);
    m_saveAs->setEnabled(all > 0);
    m_preset->setEnabled(seen > 0);
}

void Sheet::add(const PhotoJob &job)
{
    PhotoJob all = m_model.job();
    QSet<QString> known;
    for (const JobPhoto &photo : all.photos)
        known += QString::fromStdString(photo.path);
    for (const JobPhoto &photo : job.photos)
        if (!known.contains(QString::fromStdString(photo.path)))
            all.photos.push_back(photo);
    if (all.photos.size() > m_model.job().photos.size())
        m_model.setJob(std::move(all));
}

void Sheet::show(const QString &path)
{
    for (int row = 0; row < m_filter.rowCount(); ++row)
        if (const QModelIndex index = m_filter.index(row, 0);
            index.data(SheetModel::PathRole).toString() == path) {
            m_view->setCurrentIndex(index);
            m_view->scrollTo(index);
        }
}

QStringList Sheet::chosen() const
{
    QModelIndexList rows = m_view->selectionModel()->selectedIndexes();
    if (rows.isEmpty())
        for (int row = 0; row < m_filter.rowCount(); ++row)
            rows += m_filter.index(row, 0);
    std::sort(rows.begin(), rows.end());
    QStringList out;
    for (const QModelIndex &index : rows)
        out += index.data(SheetModel::PathRole).toString();
    return out;
}

QString Sheet::beside(const QString &path, int by) const
{
    for (int row = 0; row < m_filter.rowCount(); ++row)
        if (m_filter.index(row, 0).data(SheetModel::PathRole).toString() == path)
            return m_filter.index(row + by, 0).data(SheetModel::PathRole).toString();
    return {};
}

/// What is in sight is made before the rest.
void Sheet::wantSeen()
{
    const QRect seen = m_view->viewport()->rect();
    for (int y = kCell.height() / 2; y < seen.height(); y += kCell.height())
        for (int x = kCell.width() / 2; x < seen.width(); x += kCell.width())
            if (const QModelIndex index = m_filter.mapToSource(m_view->indexAt({x, y}));
                index.isValid())
                m_model.want(index.row(), index.row());
}

void Sheet::showMenu(const QPoint &at)
{
    const QModelIndex index = m_view->indexAt(at);
    if (!index.isValid())
        return;
    auto *menu = new QMenu(this);
    menu->setObjectName(QStringLiteral("sheetMenu"));
    menu->setAttribute(Qt::WA_DeleteOnClose);
    const QString path = index.data(SheetModel::PathRole).toString();
    menu->addAction(tr("Open"), this, [this, path] { Q_EMIT openAsked(path); });
    menu->addAction(tr("Deliver…"), this, [this] { Q_EMIT deliverAsked(chosen()); });
    menu->addAction(tr("Print…"), this, [this] { Q_EMIT printAsked(chosen()); });
    const QStringList two = chosen();
    menu->addAction(tr("Compare these two"), this,
                    [this, two] { Q_EMIT compareAsked(two[0], two[1]); })
        ->setEnabled(two.size() == 2);
    menu->addAction(tr("It was looked at"), this,
                    [this] {
                        for (const QString &each : chosen())
                            m_model.mark(each, [](JobPhoto &photo) { photo.wantsALook = false; });
                    })
        ->setEnabled(index.data(SheetModel::LookRole).toBool());
    menu->addSeparator();
    menu->addAction(tr("Take out of the job"), this, [this] { m_model.remove(chosen()); })
        ->setToolTip(tr("The files stay where they are"));
    menu->popup(m_view->viewport()->mapToGlobal(at));
}

void Sheet::load()
{
    m_jobs.start(
        {},
        [path = jobFile().toStdString()](const Run &) {
            const auto text = readFile(path);
            const auto job = text ? jobFromJson({text->begin(), text->end()}, path)
                                  : Result<PhotoJob>(PhotoJob()); // there was none yet
            return job ? *job : PhotoJob();
        },
        [this, guard = QPointer<Sheet>(this)](const PhotoJob &job) {
            if (guard && m_model.job().photos.empty() && !job.photos.empty())
                m_model.setJob(job);
        });
}

/// One after the other, so that the last one stays.
void Sheet::save()
{
    m_savesAgain = m_isSaving;
    if (std::exchange(m_isSaving, true))
        return;
    QDir().mkpath(QFileInfo(jobFile()).path());
    m_jobs.start(
        {},
        [text = jobToJson(m_model.job()), path = jobFile().toStdString()](const Run &) {
            return writeBytesAtomically(path, text.data(), text.size());
        },
        [this, guard = QPointer<Sheet>(this)](const Result<void> &) {
            if (!guard)
                return;
            m_isSaving = false;
            if (m_savesAgain)
                save();
        });
}

void Sheet::keyPressEvent(QKeyEvent *event)
{
    if (event->key() == Qt::Key_Escape)
        Q_EMIT closeAsked();
    else
        QWidget::keyPressEvent(event);
}

void Sheet::showEvent(QShowEvent *event)
{
    QWidget::showEvent(event);
    m_model.refresh();
    m_view->setFocus();
    QTimer::singleShot(0, this, &Sheet::wantSeen); // when it is laid out
}

} // namespace buttonhole::app

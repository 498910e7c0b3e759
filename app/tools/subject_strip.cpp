#include "tools/subject_strip.h"

#include "controls/help_text.h"
#include "controls/plain_tip.h"

#include <QHBoxLayout>
#include <QListWidget>
#include <QScrollBar>
#include <QStyledItemDelegate>
#include <QToolButton>

namespace buttonhole::app
{

namespace
{

constexpr QSize kPicture(40, 30);
constexpr int kOffersRole = Qt::UserRole;

/// One that is longer than the strip counts where it starts with it.
bool isWhole(const QListWidget &list, const QRect &item)
{
    const int width = list.viewport()->width();
    return item.left() >= 0 && (item.right() < width || (item.left() == 0 && item.width() > width));
}

/// Leaves out what the strip's end would cut through: the pagers bring it.
class WholeOffers : public QStyledItemDelegate
{
public:
    explicit WholeOffers(QListWidget *list) : QStyledItemDelegate(list), m_list(*list) {}

    void paint(QPainter *painter, const QStyleOptionViewItem &option,
               const QModelIndex &index) const override
    {
        if (isWhole(m_list, option.rect))
            QStyledItemDelegate::paint(painter, option, index);
    }

private:
    const QListWidget &m_list;
};

} // namespace

SubjectStrip::SubjectStrip(SubjectTool &tool, QWidget *parent)
    : QWidget(parent), m_tool(tool), m_list(new QListWidget(this)), m_text(new HelpText({}, this))
{
    auto *row = new QHBoxLayout(this);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(8);
    m_list->setFlow(QListView::LeftToRight);
    m_list->setWrapping(false);
    m_list->setIconSize(kPicture);
    m_list->setFixedHeight(36);
    m_list->setHorizontalScrollMode(QAbstractItemView::ScrollPerPixel);
    m_list->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    m_list->setVerticalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    m_list->setMouseTracking(true);
    m_list->setProperty("strip", true);
    m_list->setItemDelegate(new WholeOffers(m_list));
    m_list->setAccessibleName(tr("Found in this photo"));
    m_back = makePager(Qt::LeftArrow, tr("What was found before these"), -1);
    m_on = makePager(Qt::RightArrow, tr("More of what was found"), 1);
    row->addWidget(m_back);
    constexpr int kFirst = 1000; // as much as it needs; the words have what is left
    row->addWidget(m_list, kFirst);
    row->addWidget(m_on);
    row->addWidget(m_text, 1);
    const auto offersOf = [](const QListWidgetItem *item) {
        QList<int> out;
        for (const QVariant &each : item->data(kOffersRole).toList())
            out.append(each.toInt());
        return out;
    };
    connect(m_list, &QListWidget::itemEntered, this, [this, offersOf](QListWidgetItem *item) {
        const QList<int> offers = offersOf(item);
        const bool isOne = offers.size() == 1 && isWhole(*m_list, m_list->visualItemRect(item));
        m_tool.light(isOne ? offers.first() : -1);
    });
    const auto take = [this, offersOf](QListWidgetItem *item) {
        if (isWhole(*m_list, m_list->visualItemRect(item)))
            m_tool.take(offersOf(item));
    };
    connect(m_list, &QListWidget::itemClicked, this, take);
    connect(m_list, &QListWidget::itemActivated, this, take);
    connect(&m_tool, &SubjectTool::offersChanged, this, &SubjectStrip::refresh);
    connect(m_list->horizontalScrollBar(), &QScrollBar::rangeChanged, this,
            &SubjectStrip::showPagers);
    connect(m_list->horizontalScrollBar(), &QScrollBar::valueChanged, this,
            &SubjectStrip::showPagers);
    refresh();
    showPagers();
}

QToolButton *SubjectStrip::makePager(Qt::ArrowType arrow, const QString &help, int pages)
{
    auto *button = new QToolButton(this);
    button->setArrowType(arrow);
    button->setToolTip(help);
    button->setAccessibleName(help);
    button->setProperty("flat", true);
    button->setFocusPolicy(Qt::NoFocus); // the arrow keys walk through the list
    connect(button, &QToolButton::clicked, this, [this, pages] { turn(pages); });
    return button;
}

/// Brings the first offer that is cut off, or not seen, to the strip's start, or the last one
/// before it to its end.
void SubjectStrip::turn(int pages)
{
    const int width = m_list->viewport()->width();
    QScrollBar &bar = *m_list->horizontalScrollBar();
    int by = 0;
    for (int i = 0; i < m_list->count(); ++i) {
        const QRect item = m_list->visualItemRect(m_list->item(i));
        if (pages > 0 && item.right() >= width && item.left() > 0) {
            by = item.left();
            break;
        }
        if (pages < 0 && item.left() < 0)
            by = item.right() + 1 - width;
    }
    bar.setValue(bar.value() + by);
}

/// Both are seen where not all fits, so that the list keeps its place while it is paged.
void SubjectStrip::showPagers()
{
    const QScrollBar &bar = *m_list->horizontalScrollBar();
    const bool isLonger = bar.maximum() > bar.minimum();
    m_back->setVisible(isLonger && m_list->isVisibleTo(this));
    m_on->setVisible(isLonger && m_list->isVisibleTo(this));
    m_back->setEnabled(bar.value() > bar.minimum());
    m_on->setEnabled(bar.value() < bar.maximum());
}

/// No wider than what it offers: the words stand beside it.
void SubjectStrip::fitList()
{
    int width = 2 * m_list->frameWidth();
    for (int i = 0; i < m_list->count(); ++i)
        width += m_list->sizeHintForIndex(m_list->model()->index(i, 0)).width();
    m_list->setMaximumWidth(width + 2 * m_list->spacing() * m_list->count());
}

void SubjectStrip::addOffer(const QString &text, const QString &help, const QImage &picture,
                            const QList<int> &offers)
{
    auto *item = new QListWidgetItem(text, m_list);
    item->setToolTip(help);
    QVariantList kept;
    for (const int i : offers)
        kept.append(i);
    item->setData(kOffersRole, kept);
    if (!picture.isNull())
        item->setIcon(QPixmap::fromImage(picture));
}

/// The main subject, then all of a kind, then each.
void SubjectStrip::fillList()
{
    m_list->clear();
    const auto &offers = m_tool.offers();
    QMap<SubjectGroup, QList<int>> groups;
    for (int i = 0; i < offers.size(); ++i)
        groups[offers[i].found.group].append(i);
    const auto addEach = [&](const QList<int> &which, const QString &help) {
        for (const int i : which) {
            QString text = QString::fromStdString(offers[i].found.word);
            if (offers[i].found.certainty > 0)
                text += QStringLiteral(" %1 %").arg(int(offers[i].found.certainty * 100));
            addOffer(text, help, offers[i].picture, {i});
        }
    };
    addEach(groups.take(SubjectGroup::Main),
            tr("What stands out in the whole photo; click to keep it"));
    for (auto it = groups.begin(); it != groups.end(); ++it)
        if (it.value().size() > 1)
            addOffer(tr("all %1").arg(QString::fromStdString(groupWord(it.key()))),
                     tr("Keep each of them, one step each"), {}, it.value());
    for (const QList<int> &group : groups)
        addEach(group, tr("Click to keep it; the number is how sure it is"));
}

void SubjectStrip::refresh()
{
    fillList();
    m_list->setVisible(m_list->count() > 0);
    fitList();
    using State = SubjectTool::State;
    switch (m_tool.state()) {
    case State::NotLooked:
        m_text->setText(tr("Click the subject, or Shift-drag a box round it."));
        break;
    case State::Looking:
        m_text->setText(tr("Looking the photo over… You can click or box already."));
        break;
    case State::Failed:
        m_text->setText(tr("Clicks and boxes still work. ") + m_tool.problem());
        m_text->setToolTip(plainTip(m_tool.problem()));
        break;
    case State::Looked:
        m_text->setText(!m_tool.problem().isEmpty() ? m_tool.problem()
                        : m_tool.offers().size() > 1
                            ? tr("Or click anything else; Shift-drag boxes it.")
                            : tr("Nothing of the known kinds here: click the subject, or "
                                 "Shift-drag a box."));
        m_text->setToolTip(
            tr("80 kinds of everyday things are known. For all else click or box; for "
               "scattered or thin things Match and Colour window are better."));
        break;
    }
    showWords();
}

/// What was found goes first; where that leaves no room for all the words the tool's tooltip has
/// them.
void SubjectStrip::showWords()
{
    constexpr double kTwoLines = 0.6; // of the width in one
    const int room = width() - m_list->maximumWidth() - layout()->spacing();
    const int needed = int(kTwoLines * m_text->fontMetrics().horizontalAdvance(m_text->text()));
    const bool isPlain = m_tool.state() == SubjectTool::State::Looked && m_tool.problem().isEmpty();
    m_text->setVisible(!isPlain || room >= needed);
}

void SubjectStrip::resizeEvent(QResizeEvent *)
{
    showWords();
}

} // namespace buttonhole::app

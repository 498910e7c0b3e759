#include "window/left_dialog.h"

#include <QDialogButtonBox>
#include <QLabel>
#include <QListWidget>
#include <QLocale>
#include <QPushButton>
#include <QVBoxLayout>

namespace buttonhole::app
{

LeftDialog::LeftDialog(const QList<LeftWork> &left, QWidget *parent)
    : QDialog(parent), m_left(left), m_list(new QListWidget(this))
{
    setObjectName(QStringLiteral("left"));
    setWindowTitle(tr("Work that was not saved"));
    setMinimumWidth(440);
    auto *layout = new QVBoxLayout(this);
    layout->setContentsMargins(20, 16, 20, 16);
    layout->setSpacing(12);
    auto *text =
        new QLabel(tr("Buttonhole did not close as it should. This is still there:"), this);
    text->setWordWrap(true);
    layout->addWidget(text);
    m_list->setProperty("framed", true);
    m_list->setAccessibleName(tr("Work that was not saved"));
    for (const LeftWork &work : m_left)
        m_list->addItem(tr("%1, as it was on %2")
                            .arg(work.name(), locale().toString(work.when, QLocale::ShortFormat)));
    m_list->setCurrentRow(0);
    constexpr int kMostSeen = 6;
    m_list->setFixedHeight(m_list->sizeHintForRow(0) *
                               std::clamp(int(m_left.size()), 2, kMostSeen) +
                           2 * m_list->frameWidth() + 4);
    layout->addWidget(m_list);
    auto *buttons = new QDialogButtonBox(this);
    const auto add = [&](const QString &words, QDialogButtonBox::ButtonRole role,
                         const char *name) {
        QPushButton *button = buttons->addButton(words, role);
        button->setObjectName(QLatin1String(name));
        return button;
    };
    auto *takes = add(tr("Take it up"), QDialogButtonBox::AcceptRole, "take");
    auto *throws = add(tr("Throw it away"), QDialogButtonBox::DestructiveRole, "throw");
    add(tr("Not now"), QDialogButtonBox::RejectRole, "leave");
    takes->setDefault(true);
    layout->addWidget(buttons);
    connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
    connect(takes, &QPushButton::clicked, this, [this] {
        const LeftWork work = m_left.value(m_list->currentRow());
        accept();
        Q_EMIT takeAsked(work);
    });
    connect(m_list, &QListWidget::itemDoubleClicked, takes, &QPushButton::click);
    connect(throws, &QPushButton::clicked, this, &LeftDialog::throwAway);
}

void LeftDialog::throwAway()
{
    const int row = m_list->currentRow();
    if (row < 0)
        return;
    const LeftWork work = m_left.takeAt(row);
    delete m_list->takeItem(row);
    Q_EMIT throwAsked(work);
    if (m_left.isEmpty())
        accept();
}

} // namespace buttonhole::app

#include "window/keys_page.h"

#include "style/theme.h"

#include <QDialogButtonBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QVBoxLayout>

namespace buttonhole::app
{

namespace
{

enum class Doing { Files, Tools, Painting, Ticket, Looking, Window };

Doing doingOf(const ActionRow &row)
{
    const QByteArray id(row.id);
    const QByteArray menu(row.menu);
    if (id.startsWith("tool-"))
        return Doing::Tools;
    if (id.startsWith("sign-") || id == "smaller" || id == "larger" || id == "softer" ||
        id == "harder" || id == "hold")
        return Doing::Painting;
    if (menu == "Keep" || menu == "Edit")
        return Doing::Ticket;
    if (id == "bench" || id == "check" || id == "fullscreen" || menu == "Help")
        return Doing::Window;
    return menu == "View" ? Doing::Looking : Doing::Files;
}

} // namespace

KeysPage::KeysPage(const Actions &actions, QWidget *parent)
    : QDialog(parent), m_search(new QLineEdit(this)), m_none(new QLabel(this))
{
    setObjectName(QStringLiteral("keys"));
    setAttribute(Qt::WA_DeleteOnClose);
    setWindowTitle(tr("Keys"));
    QMap<Doing, QList<Row>> rows;
    for (const ActionRow &each : actionRows())
        if (each.keys[0] != 0)
            rows[doingOf(each)].append(
                {QKeySequence::listToString(actions[each.id]->shortcuts(), QKeySequence::NativeText)
                     .replace(QStringLiteral("; "), tr(" or ")),
                 actions[each.id]->text()});
    rows[Doing::Painting].append(
        {{tr("Ctrl, painting"), tr("Takes back instead of adding")},
         {tr("Shift+click"), tr("Straight from the last point")},
         {tr("Esc or undo, painting"), tr("Drops the unfinished stroke")}});
    rows[Doing::Looking].prepend({tr("Space or middle button, held"), tr("Moves the photo")});
    rows[Doing::Looking].prepend({tr("C, held"), tr("Original")});

    auto *layout = new QVBoxLayout(this);
    layout->setContentsMargins(20, 16, 20, 14);
    layout->setSpacing(10);
    m_search->setPlaceholderText(tr("Find a key or what it does"));
    m_search->setAccessibleName(tr("Find a key"));
    m_search->setClearButtonEnabled(true);
    connect(m_search, &QLineEdit::textChanged, this, &KeysPage::find);
    layout->addWidget(m_search);
    m_none->setTextFormat(Qt::PlainText);
    m_none->hide();
    layout->addWidget(m_none);
    auto *columns = new QHBoxLayout;
    columns->setSpacing(28);
    const QList<QList<std::pair<Doing, QString>>> order{
        {{Doing::Files, tr("Files and photos")},
         {Doing::Tools, tr("Tools")},
         {Doing::Window, tr("Window")}},
        {{Doing::Painting, tr("Painting")}, {Doing::Looking, tr("Looking")}},
        {{Doing::Ticket, tr("Ticket")}}};
    for (const auto &column : order) {
        auto *groups = new QVBoxLayout;
        groups->setSpacing(12);
        for (const auto &[doing, title] : column)
            groups->addWidget(makeGroup(title, rows[doing]));
        groups->addStretch();
        columns->addLayout(groups, 1);
    }
    layout->addLayout(columns, 1);
    auto *buttons = new QDialogButtonBox(this);
    auto *close = buttons->addButton(tr("Close"), QDialogButtonBox::RejectRole);
    close->setDefault(true);
    connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::close);
    layout->addWidget(buttons);
    setMinimumSize(sizeHint()); // does not shrink under the hand while one types
    m_search->setFocus();
}

QWidget *KeysPage::makeGroup(const QString &title, QList<Row> rows)
{
    auto *group = new QWidget(this);
    auto *layout = new QVBoxLayout(group);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(3);
    auto *head = new QLabel(title, group);
    head->setFont(titleFont());
    layout->addWidget(head);
    for (Row &row : rows) {
        row.widget = new QWidget(group);
        auto *line = new QHBoxLayout(row.widget);
        line->setContentsMargins(0, 0, 0, 0);
        auto *keys = new QLabel(row.keys, row.widget);
        QFont bold = smallFont();
        bold.setWeight(QFont::DemiBold);
        keys->setFont(bold);
        keys->setFixedWidth(150);
        keys->setWordWrap(true);
        auto *does = new QLabel(row.does, row.widget);
        does->setFont(smallFont());
        line->addWidget(keys, 0, Qt::AlignTop);
        line->addWidget(does, 1, Qt::AlignTop);
        layout->addWidget(row.widget);
    }
    m_groups.append({group, rows});
    return group;
}

void KeysPage::find(const QString &text)
{
    bool any = false;
    for (const Group &group : m_groups) {
        bool anyHere = false;
        for (const Row &row : group.rows) {
            const bool fits = row.keys.contains(text, Qt::CaseInsensitive) ||
                              row.does.contains(text, Qt::CaseInsensitive);
            row.widget->setVisible(fits);
            anyHere = anyHere || fits;
        }
        group.widget->setVisible(anyHere);
        any = any || anyHere;
    }
    m_none->setText(tr("No key is called \"%1\".").arg(text));
    m_none->setVisible(!any);
}

} // namespace buttonhole::app

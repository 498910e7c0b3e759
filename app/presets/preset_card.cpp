#include "presets/preset_card.h"

#include "presets/preset_words.h"

#include <QCheckBox>
#include <QComboBox>
#include <QDialogButtonBox>
#include <QFormLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QVBoxLayout>

namespace buttonhole::app
{

PresetCard::PresetCard(const Take &take, const QStringList &folders, QWidget *parent)
    : QDialog(parent), m_name(new QLineEdit(this)), m_folder(new QComboBox(this))
{
    setWindowTitle(tr("New preset"));
    auto *layout = new QVBoxLayout(this);
    auto *form = new QFormLayout;
    form->setHorizontalSpacing(16);
    m_name->setObjectName(QStringLiteral("presetName"));
    m_name->setMaxLength(int(Preset::kMostName) / 4);
    form->addRow(tr("Name"), m_name);
    m_folder->setObjectName(QStringLiteral("presetFolder"));
    m_folder->setEditable(true);
    m_folder->addItem(QString());
    m_folder->addItems(folders);
    m_folder->lineEdit()->setPlaceholderText(tr("None; or type a new one"));
    form->addRow(tr("Folder"), m_folder);
    layout->addLayout(form);
    layout->addSpacing(4);
    layout->addWidget(new QLabel(tr("What it holds; the rest of a ticket stays as it is:"), this));
    addGroups(take);
    addButtons(tr("Save"));
    connect(m_name, &QLineEdit::textChanged, this, &PresetCard::refresh);
    refresh();
}

PresetCard::PresetCard(const Take &take, QWidget *parent) : QDialog(parent)
{
    setWindowTitle(tr("The same again"));
    auto *layout = new QVBoxLayout(this);
    layout->addWidget(new QLabel(tr("What goes onto the other photos:"), this));
    addGroups(take);
    addButtons(tr("Put it on"));
    refresh();
}

void PresetCard::addGroups(const Take &take)
{
    setObjectName(QStringLiteral("presetCard"));
    setMinimumWidth(380);
    layout()->setContentsMargins(20, 16, 20, 16);
    layout()->setSpacing(8);
    const auto offer = [&](const std::string &id) {
        auto *box = new QCheckBox(groupName(id), this);
        box->setObjectName(QStringLiteral("group-") + QString::fromStdString(id));
        const bool isOfPhoto = id == "keeps" || id == "crop" || id == "lens" || id == "light";
        box->setChecked(!isOfPhoto || (!m_name && id == "keeps"));
        connect(box, &QCheckBox::toggled, this, &PresetCard::refresh);
        layout()->addWidget(box);
        m_groups.append({box, id});
    };
    for (const TakeGroup &each : takeGroups()) {
        if (!each.isSet(take))
            continue;
        if (each.id != "tones")
            offer(std::string(each.id));
        else // one by one
            for (const LocalTone &tone : take.tones)
                offer("tone:" + tone.name);
    }
}

void PresetCard::addButtons(const QString &go)
{
    auto *buttons = new QDialogButtonBox(this);
    m_save = buttons->addButton(go, QDialogButtonBox::AcceptRole);
    m_save->setDefault(true);
    buttons->addButton(tr("Not now"), QDialogButtonBox::RejectRole);
    layout()->addWidget(buttons);
    connect(buttons, &QDialogButtonBox::accepted, this, &QDialog::accept);
    connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
}

QString PresetCard::name() const
{
    return m_name ? m_name->text().trimmed() : QString();
}

QString PresetCard::folder() const
{
    return m_folder ? m_folder->currentText().trimmed() : QString();
}

std::vector<std::string> PresetCard::groups() const
{
    std::vector<std::string> out;
    for (const auto &[box, id] : m_groups)
        if (box->isChecked())
            out.push_back(id);
    return out;
}

void PresetCard::refresh()
{
    m_save->setEnabled((!m_name || !name().isEmpty()) && !groups().empty());
}

} // namespace buttonhole::app

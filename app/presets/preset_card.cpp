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
    setObjectName(QStringLiteral("presetCard"));
    setWindowTitle(tr("New preset"));
    setMinimumWidth(380);
    auto *layout = new QVBoxLayout(this);
    layout->setContentsMargins(20, 16, 20, 16);
    layout->setSpacing(8);
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
    const auto offer = [&](const std::string &id, bool isSet) {
        auto *box = new QCheckBox(groupName(id), this);
        box->setObjectName(QStringLiteral("group-") + QString::fromStdString(id));
        box->setChecked(isSet && id != "keeps" && id != "crop" && id != "lens" && id != "light");
        connect(box, &QCheckBox::toggled, this, &PresetCard::refresh);
        layout->addWidget(box);
        m_groups.append({box, id});
    };
    for (const TakeGroup &each : takeGroups()) {
        if (!each.isSet(take))
            continue;
        if (each.id != "tones")
            offer(std::string(each.id), true);
        else // one by one
            for (const LocalTone &tone : take.tones)
                offer("tone:" + tone.name, true);
    }
    auto *buttons = new QDialogButtonBox(this);
    m_save = buttons->addButton(tr("Save"), QDialogButtonBox::AcceptRole);
    m_save->setDefault(true);
    buttons->addButton(tr("Not now"), QDialogButtonBox::RejectRole);
    layout->addSpacing(8);
    layout->addWidget(buttons);
    connect(buttons, &QDialogButtonBox::accepted, this, &QDialog::accept);
    connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
    connect(m_name, &QLineEdit::textChanged, this, &PresetCard::refresh);
    refresh();
}

QString PresetCard::name() const
{
    return m_name->text().trimmed();
}

QString PresetCard::folder() const
{
    return m_folder->currentText().trimmed();
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
    m_save->setEnabled(!name().isEmpty() && !groups().empty());
}

} // namespace buttonhole::app

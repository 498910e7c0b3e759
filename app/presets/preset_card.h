#pragma once

#include "document/preset.h"

#include <QDialog>

class QCheckBox;
class QComboBox;
class QLineEdit;
class QPushButton;

namespace buttonhole::app
{

/// A name, a folder, and which lines of the ticket a new preset is to hold.
class PresetCard : public QDialog
{
    Q_OBJECT
public:
    PresetCard(const Take &take, const QStringList &folders, QWidget *parent);
    /// Without a name: which lines go onto other photos.
    PresetCard(const Take &take, QWidget *parent);

    QString name() const;
    QString folder() const;
    std::vector<std::string> groups() const;

private:
    void addGroups(const Take &take);
    void addButtons(const QString &go);
    void refresh();

    QLineEdit *m_name = nullptr; ///< null: it gets none
    QComboBox *m_folder = nullptr;
    QPushButton *m_save = nullptr;
    QList<std::pair<QCheckBox *, std::string>> m_groups;
};

} // namespace buttonhole::app

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

    QString name() const;
    QString folder() const;
    std::vector<std::string> groups() const;

private:
    void refresh();

    QLineEdit *m_name;
    QComboBox *m_folder;
    QPushButton *m_save;
    QList<std::pair<QCheckBox *, std::string>> m_groups;
};

} // namespace buttonhole::app

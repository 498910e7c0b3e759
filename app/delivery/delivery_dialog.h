#pragma once

#include "job/delivery.h"

#include <QDialog>

class QComboBox;
class QFormLayout;
class QLabel;
class QLineEdit;
class QPushButton;

namespace buttonhole::app
{

class PictureForm;

/// How pictures leave: format, size, name, place. Shows what the first one will be called.
class DeliveryDialog : public QDialog
{
    Q_OBJECT
public:
    /// @param photos of which pictures are to be written; at least one
    DeliveryDialog(const QStringList &photos, const Delivery &delivery, QWidget *parent);
    Delivery delivery() const;

Q_SIGNALS:
    /// It is to be kept as a preset of that name.
    void keepAsked(const QString &name, const buttonhole::Delivery &delivery);
    /// A kept one is to be used. The dialog is set to what useDelivery() is given.
    void keptAsked(const QPoint &at);

public Q_SLOTS:
    void useDelivery(const buttonhole::Delivery &delivery);

private:
    void addFile(QFormLayout &form);
    void chooseFolder();
    void refresh();

    QStringList m_photos;
    QLineEdit *m_name;
    QLabel *m_example;
    QComboBox *m_where;
    QLineEdit *m_folder;
    QComboBox *m_ifThere;
    PictureForm *m_picture; ///< behind the others by the Tab key
    QPushButton *m_go = nullptr;
};

} // namespace buttonhole::app

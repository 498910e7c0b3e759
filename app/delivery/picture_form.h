#pragma once

#include "job/delivery.h"

#include <QWidget>

class QCheckBox;
class QComboBox;
class QFormLayout;
class QLayout;
class QLineEdit;
class QSpinBox;

namespace buttonhole::app
{

class Slider;

/// What a picture is to be when it leaves: format, size, what of the photo's facts goes with it.
class PictureForm : public QWidget
{
    Q_OBJECT
public:
    explicit PictureForm(QWidget *parent);

    void use(const Delivery &delivery);
    /// Sets what the form is about; name and place stay as they are.
    void putInto(Delivery &delivery) const;
    /// Its rows, for what a dialog asks besides.
    QFormLayout &form() const { return *m_form; }
    /// What the photo's own profile is called.
    void setOwnProfile(const QString &name);

Q_SIGNALS:
    void changed();

private:
    void addPicture();
    void addAbout();
    void refresh();
    PictureFormat format() const;

    QFormLayout *m_form;
    QLayout *m_sizeRow = nullptr;
    QComboBox *m_format;
    Slider *m_quality;
    QComboBox *m_bits;
    QComboBox *m_sizeKind;
    QSpinBox *m_amount; ///< or the width, of a box
    QSpinBox *m_height;
    Slider *m_sharpen;
    QComboBox *m_space;
    QComboBox *m_carried;
    QLineEdit *m_copyright;
    QLineEdit *m_description;
    QCheckBox *m_strip;
    QCheckBox *m_signs;
    QCheckBox *m_masks;
};

} // namespace buttonhole::app

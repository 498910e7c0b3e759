#pragma once

#include "job/print.h"

#include <QDialog>
#include <QImage>

class QCheckBox;
class QComboBox;
class QDoubleSpinBox;
class QFormLayout;
class QLabel;
class QPushButton;
class QSpinBox;
class QToolButton;

namespace buttonhole::app
{

class PrintPreview;

/// How pictures lie on paper, with the pages in sight.
class PrintDialog : public QDialog
{
    Q_OBJECT
public:
    /// @param pixels of the first picture, if it is known: its resolution is told
    PrintDialog(int count, const PrintPage &page, const QSize &pixels, QWidget *parent);
    PrintPage page() const;
    PrintPreview &preview() { return *m_preview; }
    void setPicture(int index, const QImage &picture);

Q_SIGNALS:
    void printAsked(const buttonhole::PrintPage &page);
    void pdfAsked(const buttonhole::PrintPage &page);

private:
    void addPaper(QFormLayout &form);
    void addPictures(QFormLayout &form);
    QWidget *makePager();
    void use(const PrintPage &page);
    void refresh();
    QString sizeWords(const PrintPage &page) const;

    QSize m_pixels;
    PrintPreview *m_preview;
    QFormLayout *m_form;
    QLabel *m_pages;
    QToolButton *m_back;
    QToolButton *m_on;
    QComboBox *m_paper;
    QCheckBox *m_lies;
    QDoubleSpinBox *m_margin;
    QSpinBox *m_columns;
    QSpinBox *m_rows;
    QDoubleSpinBox *m_gap;
    QComboBox *m_sizeKind;
    QDoubleSpinBox *m_longEdge; ///< cm
    QSpinBox *m_dpi;
    QLabel *m_words;
    QPushButton *m_print = nullptr;
    QPushButton *m_pdf = nullptr;
};

} // namespace buttonhole::app

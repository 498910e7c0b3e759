#pragma once

#include "job/print.h"

#include <QImage>
#include <QWidget>

namespace buttonhole::app
{

/// A page as it will come out of the printer.
class PrintPreview : public QWidget
{
    Q_OBJECT
public:
    /// @param count of pictures
    PrintPreview(int count, QWidget *parent);

    void setPage(const PrintPage &page);
    void setPicture(int index, const QImage &picture);
    int pages() const;
    int shown() const { return m_shown; }
    void showPage(int page);
    /// Of a picture on its page, mm; what has no picture yet is taken for 3 : 2.
    PrintPlace placeOf(int index) const;

protected:
    void paintEvent(QPaintEvent *event) override;

private:
    QList<QImage> m_pictures;
    PrintPage m_page;
    int m_shown = 0;
};

} // namespace buttonhole::app

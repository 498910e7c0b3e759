#pragma once

#include "tools/subject_tool.h"

#include <QWidget>

class QLabel;
class QListWidget;
class QToolButton;

namespace buttonhole::app
{

/// In the tray: what was found in the photo, each with a small picture; a click keeps it.
class SubjectStrip : public QWidget
{
    Q_OBJECT
public:
    explicit SubjectStrip(SubjectTool &tool, QWidget *parent = nullptr);

protected:
    void resizeEvent(QResizeEvent *event) override;

private:
    void refresh();
    void fillList();
    void addOffer(const QString &text, const QString &help, const QImage &picture,
                  const QList<int> &offers);

    QToolButton *makePager(Qt::ArrowType arrow, const QString &help, int pages);
    void turn(int pages);
    void fitList();
    void showPagers();
    void showWords();

    SubjectTool &m_tool;
    QListWidget *m_list;
    QToolButton *m_back; ///< seen where not all fits
    QToolButton *m_on;
    QLabel *m_text;
};

} // namespace buttonhole::app

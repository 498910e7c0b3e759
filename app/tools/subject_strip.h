#pragma once

#include "tools/subject_tool.h"

#include <QWidget>

class QLabel;
class QListWidget;

namespace buttonhole::app
{

/// In the tray: what was found in the photo, each with a small picture; a click keeps it.
class SubjectStrip : public QWidget
{
    Q_OBJECT
public:
    explicit SubjectStrip(SubjectTool &tool, QWidget *parent = nullptr);

private:
    void refresh();
    void addOffer(const QString &text, const QString &help, const QImage &picture,
                  const QList<int> &offers);

    SubjectTool &m_tool;
    QListWidget *m_list;
    QLabel *m_text;
};

} // namespace buttonhole::app

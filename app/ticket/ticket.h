#pragma once

#include "commands/session.h"

#include <QColor>
#include <QFrame>

class QCheckBox;
class QVBoxLayout;

namespace buttonhole::app
{

/// One line of the ticket: on/off, a swatch for keeps, name, a few words. Arrow keys go from line
/// to line, Delete removes a step, F2 renames a keep.
class TicketRow : public QFrame
{
    Q_OBJECT
public:
    struct Content {
        TicketLine line;
        QString name;
        QString info;
        QString sign; ///< "+", "−" or "∩" for steps
        bool on = true;
        bool isUnderstood = true;
        friend bool operator==(const Content &, const Content &) = default;
    };
    TicketRow(const Content &content, QWidget *parent);

    const Content &content() const { return m_content; }
    void setContent(const Content &content);
    void setSelected(bool selected);
    void setSwatch(const QColor &colour);

Q_SIGNALS:
    void chosen();
    void switched(bool on);
    void removeAsked();
    void renameAsked();
    void stepAsked(int delta); ///< arrow keys

protected:
    void paintEvent(QPaintEvent *event) override;
    void mousePressEvent(QMouseEvent *event) override;
    void mouseDoubleClickEvent(QMouseEvent *event) override;
    void keyPressEvent(QKeyEvent *event) override;
    void focusInEvent(QFocusEvent *event) override;

private:
    int textLeft() const;
    Content m_content;
    QCheckBox *m_switch;
    QColor m_swatch;
    bool m_selected = false;
};

/// The ticket: all that is done in the take, in the order the picture is made.
class Ticket : public QWidget
{
    Q_OBJECT
public:
    Ticket(Session &session, QWidget *parent = nullptr);

    void selectNext(int delta);
    const QList<TicketRow *> &rows() const { return m_rows; }
    void setSwatch(uint64_t keepId, const QColor &colour);

Q_SIGNALS:
    void renameAsked();

private:
    void rebuild();
    void markSelected();
    void switchLine(const TicketLine &line, bool on);
    void removeLine(const TicketLine &line);
    void addRow(const TicketRow::Content &content, int index);

    Session &m_session;
    QVBoxLayout *m_layout;
    QList<TicketRow *> m_rows;
    QMap<uint64_t, QColor> m_swatches;
};

} // namespace buttonhole::app

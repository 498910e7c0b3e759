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
    void menuAsked(const QPoint &at); ///< on the screen; after chosen()
    void stepAsked(int delta);        ///< arrow keys
    void dragged(int y);              ///< place in the ticket; the button is held
    void dropped(int y);

protected:
    void paintEvent(QPaintEvent *event) override;
    void mousePressEvent(QMouseEvent *event) override;
    void mouseMoveEvent(QMouseEvent *event) override;
    void mouseReleaseEvent(QMouseEvent *event) override;
    void mouseDoubleClickEvent(QMouseEvent *event) override;
    void keyPressEvent(QKeyEvent *event) override;
    void contextMenuEvent(QContextMenuEvent *event) override;
    void focusInEvent(QFocusEvent *event) override;

private:
    int textLeft() const;
    Content m_content;
    QCheckBox *m_switch;
    QColor m_swatch;
    bool m_selected = false;
    int m_pressedAt = 0;
    bool m_isDragged = false;
};

/// The ticket: all that is done in the take, in the order the picture is made.
class Ticket : public QWidget
{
    Q_OBJECT
public:
    Ticket(Session &session, QWidget *parent = nullptr);

    void selectNext(int delta);
    /// The selected keep or step goes one place up or down; a step passes from keep to keep.
    void moveLine(int delta);
    void duplicateLine();
    /// Offers the other keeps as places for a copy of the selected step.
    void askWhereToCopy();
    void removeLine(const TicketLine &line);
    /// The selected keep starts anew: no steps.
    void clearKeep();
    const QList<TicketRow *> &rows() const { return m_rows; }
    void setSwatch(uint64_t keepId, const QColor &colour);

Q_SIGNALS:
    void renameAsked();
    void selectedRowChanged(QWidget *row);
    /// Of the selected line; on the screen.
    void menuAsked(const QPoint &at);

private:
    void rebuild();
    void markSelected();
    void switchLine(const TicketLine &line, bool on);
    /// A row was dragged and let go at this height.
    void dropLine(const TicketLine &line, int y);
    void showDropAt(const TicketLine &line, int y);
    struct Drop {
        int row = -1; ///< it goes above this one; the count of rows: at the end
        uint64_t lineId = 0;
        int index = 0;
    };
    Drop dropAt(const TicketLine &line, int y) const;
    Drop stepDropAt(const TicketLine &line, int y) const;
    Drop blockDropAt(const TicketLine &line, int y) const;
    void moveStep(const TicketLine &line, uint64_t toKeep, int index);
    void moveBlock(const TicketLine &line, int index); ///< a keep or a tone
    void addRow(const TicketRow::Content &content, int index);

    Session &m_session;
    QVBoxLayout *m_layout;
    QList<TicketRow *> m_rows;
    QMap<uint64_t, QColor> m_swatches;
    QWidget *m_dropMark;
    TicketLine m_selected; ///< the last that was shown
};

} // namespace buttonhole::app

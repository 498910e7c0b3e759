#pragma once

#include <QLabel>

namespace buttonhole::app
{

/// Words that wrap in the room they are given and ask for none of their own; what finds none is cut
/// off with an ellipsis. A plain label that wraps makes every layout of the window set its text
/// again, for each height that is tried.
class HelpText : public QLabel
{
public:
    explicit HelpText(const QString &text, QWidget *parent = nullptr) : QLabel(text, parent)
    {
        setForegroundRole(QPalette::PlaceholderText);
        setWordWrap(true);
        setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Ignored);
    }
    bool hasHeightForWidth() const override { return false; }
    QSize sizeHint() const override { return {}; }
    QSize minimumSizeHint() const override { return {}; }

protected:
    void paintEvent(QPaintEvent *event) override;
};

} // namespace buttonhole::app

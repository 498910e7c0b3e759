#pragma once

#include <QProxyStyle>

namespace buttonhole::app
{

/// Fusion with line icons of our own where a desktop theme may have none: file dialogs would show
/// blank buttons. Buttons of dialogs carry words alone.
class FeltStyle : public QProxyStyle
{
    Q_OBJECT
public:
    FeltStyle();
    QIcon standardIcon(StandardPixmap icon, const QStyleOption *option,
                       const QWidget *widget) const override;
    int styleHint(StyleHint hint, const QStyleOption *option, const QWidget *widget,
                  QStyleHintReturn *returned) const override;
};

} // namespace buttonhole::app

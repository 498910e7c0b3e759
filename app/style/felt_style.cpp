#include "style/felt_style.h"

#include "style/theme.h"

#include <QPainter>
#include <QStyleFactory>
#include <QSvgRenderer>

namespace buttonhole::app
{

namespace
{

/// SVG paths on a square of 16.
const char *pathOf(QStyle::StandardPixmap icon)
{
    switch (icon) {
    case QStyle::SP_FileDialogBack:
    case QStyle::SP_ArrowBack:
    case QStyle::SP_ArrowLeft:
        return "M10 3.5 5.5 8l4.5 4.5";
    case QStyle::SP_ArrowForward:
    case QStyle::SP_ArrowRight:
        return "M6 3.5 10.5 8 6 12.5";
    case QStyle::SP_FileDialogToParent:
        return "M8 13V3.5M4 7.5l4-4 4 4";
    case QStyle::SP_FileDialogNewFolder:
        return "M2 4h4.2l1.4 2H14v7H2zM8 7.6v3.8M6.1 9.5h3.8";
    case QStyle::SP_FileDialogListView:
        return "M3 4.5h10M3 8h10M3 11.5h10";
    case QStyle::SP_FileDialogDetailedView:
        return "M3 4.5h1.6M7 4.5h6M3 8h1.6M7 8h6M3 11.5h1.6M7 11.5h6";
    case QStyle::SP_DirIcon:
    case QStyle::SP_DirClosedIcon:
    case QStyle::SP_DirOpenIcon:
    case QStyle::SP_DirLinkIcon:
    case QStyle::SP_DirHomeIcon:
        return "M2 4h4.2l1.4 2H14v7H2z";
    case QStyle::SP_FileIcon:
    case QStyle::SP_FileLinkIcon:
        return "M4 2.5h5.2L12 5.3v8.2H4zM9 2.5v3h3";
    case QStyle::SP_ComputerIcon:
    case QStyle::SP_DesktopIcon:
    case QStyle::SP_DriveHDIcon:
        return "M2.5 3.5h11v7h-11zM5.5 13h5";
    default:
        return nullptr;
    }
}

QPixmap drawn(const char *path, const QColor &ink, int side)
{
    const QString svg =
        QStringLiteral("<svg xmlns='http://www.w3.org/2000/svg' viewBox='0 0 16 16'><path d='%1' "
                       "fill='none' stroke='%2' stroke-width='1.3' stroke-linecap='round' "
                       "stroke-linejoin='round'/></svg>")
            .arg(QLatin1String(path), ink.name());
    QPixmap out(side, side);
    out.fill(Qt::transparent);
    QPainter painter(&out);
    QSvgRenderer(svg.toUtf8()).render(&painter);
    return out;
}

} // namespace

FeltStyle::FeltStyle() : QProxyStyle(QStyleFactory::create(QStringLiteral("Fusion"))) {}

QIcon FeltStyle::standardIcon(StandardPixmap icon, const QStyleOption *option,
                              const QWidget *widget) const
{
    const char *path = pathOf(icon);
    if (!path)
        return QProxyStyle::standardIcon(icon, option, widget);
    QIcon out;
    for (const int side : {16, 32, 48}) {
        out.addPixmap(drawn(path, felt().ink, side), QIcon::Normal);
        out.addPixmap(drawn(path, felt().line, side), QIcon::Disabled);
    }
    return out;
}

int FeltStyle::styleHint(StyleHint hint, const QStyleOption *option, const QWidget *widget,
                         QStyleHintReturn *returned) const
{
    if (hint == SH_DialogButtonBox_ButtonsHaveIcons)
        return 0;
    return QProxyStyle::styleHint(hint, option, widget, returned);
}

} // namespace buttonhole::app

#include "style/theme.h"

#include "style/felt_style.h"
#include "style/thread_colours.h"

#include <QApplication>
#include <QPainter>
#include <QPalette>

namespace buttonhole::app
{

namespace
{

const Felt kLight{QColor(0xE4, 0xE4, 0xE2), QColor(0xF1, 0xF1, 0xEF), QColor(0x26, 0x28, 0x2A),
                  QColor(0x5A, 0x5D, 0x60), QColor(0xB9, 0xB9, 0xB5), QColor(0xC9, 0x74, 0x1A),
                  QColor(0x9A, 0x55, 0x0C), QColor(0xD9, 0xD9, 0xD5), QColor(0x26, 0x28, 0x2A),
                  QColor(0xF1, 0xF1, 0xEF)};
const Felt kDark{QColor(0x2B, 0x2C, 0x2D), QColor(0x37, 0x39, 0x3A), QColor(0xEC, 0xEB, 0xE7),
                 QColor(0xA9, 0xAB, 0xAC), QColor(0x55, 0x57, 0x58), QColor(0xE7, 0xA2, 0x4E),
                 QColor(0xE7, 0xA2, 0x4E), QColor(0x23, 0x24, 0x25), QColor(0xEC, 0xEB, 0xE7),
                 QColor(0x26, 0x28, 0x2A)};

const Felt *feltInUse = &kLight; // set by applyTheme() on the UI thread only

QString styleSheet(const Felt &f, Theme theme)
{
    QString sheet = QStringLiteral(R"(
QMainWindow, QDialog, QMenuBar, QMessageBox { background: %felt; }
QMenuBar { padding: 2px 8px; }
QMenuBar::item { padding: 5px 9px; border-radius: 5px; background: transparent; }
QMenuBar::item:selected { background: %card; }
QMenu { background: %card; border: 1px solid %line; padding: 5px; }
QMenu::item { padding: 5px 26px 5px 22px; border-radius: 4px; }
QMenu::item:selected { background: %felt; color: %ink; }
QMenu::item:disabled { color: %line; }
QMenu::separator { height: 1px; background: %line; margin: 4px 8px; }
QMenu::indicator { width: 14px; height: 14px; left: 5px; }
QMenu::indicator:checked { image: url(:/%check); }
QToolTip { background: %card; color: %ink; border: 1px solid %line; padding: 3px 6px; }
QPushButton, QToolButton { background: %card; color: %ink; border: 1px solid %line; border-radius: 6px; padding: 4px 11px; }
QPushButton:hover, QToolButton:hover { border-color: %soft; }
QPushButton:pressed, QToolButton:pressed { background: %felt; }
QPushButton:focus, QToolButton:focus { border: 1px dashed %thread; }
QPushButton:default { background: %pill; color: %onpill; border-color: %pill; }
QPushButton:default:focus { border: 1px dashed %thread; }
QPushButton:disabled, QToolButton:disabled { color: %line; }
QFileDialog QToolButton { padding: 4px; }
QToolButton[flat="true"] { background: transparent; border: 1px solid transparent; padding: 3px 6px; }
QToolButton[flat="true"]:hover { background: %card; }
QToolButton[flat="true"]:focus { border: 1px dashed %thread; }
QToolButton[sign="true"] { color: %soft; padding: 4px 4px; }
QToolButton[sign="true"]::menu-indicator { image: none; }
QToolButton[sign="true"]:checked { color: %ink; border: 1px solid %ink; background: %card; }
QToolButton[sign="true"]:focus { border: 1px dashed %thread; }
QToolButton[snug="true"] { padding: 4px 3px; }
QToolButton[tab="true"] { background: transparent; color: %soft; border: 1px solid transparent; border-bottom: 2px solid transparent; border-radius: 0; padding: 4px 5px; }
QToolButton[tab="true"]:checked { color: %ink; border-bottom: 2px solid %thread; font-weight: 600; }
QToolButton[tab="true"][compared="true"] { border-bottom: 2px dotted %thread; }
QToolButton[tab="true"]:focus { border: 1px dashed %thread; }
QToolButton[pill="true"] { background: transparent; border: 1px solid transparent; border-radius: 14px; padding: 6px 5px; font-weight: 600; }
QToolButton[pill="true"]:checked { background: %pill; color: %onpill; }
QToolButton[pill="true"]:focus { border: 1px dashed %thread; }
QToolButton[accent="true"] { color: %threadink; font-weight: 600; background: transparent; border: 1px solid transparent; padding: 3px 6px; }
QToolButton[accent="true"]:hover, QToolButton[accent="true"]:checked { background: %card; }
QToolButton[accent="true"]:focus { border: 1px dashed %thread; }
QToolButton:disabled, QToolButton[sign="true"]:disabled, QToolButton[pill="true"]:disabled, QToolButton[accent="true"]:disabled { color: %line; background: transparent; border-color: transparent; }
QToolButton::menu-indicator { image: url(:/down.svg); subcontrol-position: right center; right: 4px; }
QLineEdit, QSpinBox, QComboBox, QDoubleSpinBox { background: %card; color: %ink; border: 1px solid %line; border-radius: 5px; padding: 3px 7px; selection-background-color: %thread; selection-color: white; }
QLineEdit:disabled, QSpinBox:disabled, QComboBox:disabled, QDoubleSpinBox:disabled { background: transparent; color: %line; }
QLineEdit:focus, QSpinBox:focus, QComboBox:focus, QDoubleSpinBox:focus { border: 1px dashed %thread; }
QSpinBox::up-button, QSpinBox::down-button, QDoubleSpinBox::up-button, QDoubleSpinBox::down-button { width: 0; border: none; }
QLineEdit[title="true"] { background: transparent; border: 1px solid transparent; padding-left: 0px; font-size: 13px; font-weight: 600; }
QLineEdit[title="true"]:hover { border-color: %line; }
QLineEdit[title="true"]:focus { background: %card; border: 1px dashed %thread; }
QComboBox::drop-down { border: none; width: 18px; }
QComboBox::down-arrow { image: url(:/down.svg); }
QComboBox QAbstractItemView { background: %card; color: %ink; border: 1px solid %line; selection-background-color: %felt; selection-color: %ink; }
QCheckBox { spacing: 7px; color: %ink; }
QCheckBox::indicator { width: 13px; height: 13px; border: 1.5px solid %ink; border-radius: 4px; background: transparent; }
QCheckBox::indicator:checked { image: url(:/%check); }
QCheckBox::indicator:disabled { border-color: %line; }
QCheckBox:focus { color: %threadink; }
QListWidget { background: transparent; border: 1px solid transparent; outline: none; color: %ink; }
QListView#sheetView { background: transparent; border: none; outline: none; }
QListWidget[framed="true"] { background: %card; border: 1px solid %line; border-radius: 5px; }
QListWidget[framed="true"]::item:hover:enabled { background: %felt; }
QListWidget[framed="true"]::item:selected { background: %pill; color: %onpill; }
QListWidget:focus { border: 1px dashed %thread; border-radius: 5px; }
QListWidget::item { padding: 3px 6px; border-radius: 4px; }
QListWidget[strip="true"]::item { padding: 0px 6px 0px 0px; margin-right: 4px; }
QListWidget[strip="true"]::item:hover { background: %card; }
QListWidget::item:selected { background: %card; color: %ink; }
QProgressBar { background: %line; border: none; border-radius: 3px; max-height: 6px; }
QProgressBar::chunk { background: %thread; border-radius: 3px; }
QScrollArea { background: transparent; border: none; }
QHeaderView::section { background: %felt; color: %soft; border: none; border-bottom: 1px solid %line; padding: 4px 6px; }
QFileDialog QTreeView, QFileDialog QListView { background: %card; border: 1px solid %line; border-radius: 5px; }
QScrollBar:vertical { background: transparent; width: 9px; }
QScrollBar::handle:vertical { background: %line; border-radius: 4px; min-height: 24px; }
QScrollBar::add-line, QScrollBar::sub-line, QScrollBar::add-page, QScrollBar::sub-page { background: none; height: 0; }
)");
    const std::pair<const char *, QColor> names[] = {{"%threadink", f.threadInk},
                                                     {"%felt", f.felt},
                                                     {"%card", f.card},
                                                     {"%ink", f.ink},
                                                     {"%soft", f.softInk},
                                                     {"%line", f.line},
                                                     {"%thread", f.thread},
                                                     {"%onpill", f.onPill},
                                                     {"%pill", f.pill}};
    for (const auto &[name, colour] : names)
        sheet.replace(QLatin1String(name), colour.name());
    sheet.replace(QLatin1String("%check"), theme == Theme::Dark ? QStringLiteral("check-dark.svg")
                                                                : QStringLiteral("check.svg"));
    return sheet;
}

} // namespace

const Felt &felt()
{
    return *feltInUse;
}

QColor surroundColour(Surround surround)
{
    switch (surround) {
    case Surround::Light:
        return {0xC6, 0xC6, 0xC6};
    case Surround::Dark:
        return {0x3A, 0x3A, 0x3A};
    case Surround::Mid:
        break;
    }
    return {0x8A, 0x8A, 0x8A};
}

QFont bodyFont()
{
    QFont font(QStringLiteral("Inter"));
    font.setPixelSize(12);
    return font;
}

QFont titleFont()
{
    QFont font = bodyFont();
    font.setPixelSize(13);
    font.setWeight(QFont::DemiBold);
    return font;
}

QFont smallFont()
{
    QFont font = bodyFont();
    font.setPixelSize(11);
    return font;
}

void applyTheme(Theme theme)
{
    feltInUse = theme == Theme::Dark ? &kDark : &kLight;
    const Felt &f = *feltInUse;
    QApplication::setStyle(new FeltStyle);
    QPalette palette;
    palette.setColor(QPalette::Window, f.felt);
    palette.setColor(QPalette::WindowText, f.ink);
    palette.setColor(QPalette::Base, f.card);
    palette.setColor(QPalette::AlternateBase, f.felt);
    palette.setColor(QPalette::Text, f.ink);
    palette.setColor(QPalette::Button, f.card);
    palette.setColor(QPalette::ButtonText, f.ink);
    palette.setColor(QPalette::Highlight, f.thread);
    palette.setColor(QPalette::HighlightedText, Qt::white);
    palette.setColor(QPalette::PlaceholderText, f.softInk);
    palette.setColor(QPalette::ToolTipBase, f.card);
    palette.setColor(QPalette::ToolTipText, f.ink);
    palette.setColor(QPalette::Disabled, QPalette::WindowText, f.line);
    palette.setColor(QPalette::Disabled, QPalette::Text, f.line);
    palette.setColor(QPalette::Disabled, QPalette::ButtonText, f.line);
    QApplication::setPalette(palette);
    QApplication::setFont(bodyFont());
    qApp->setStyleSheet(styleSheet(f, theme));
}

void drawStitchLine(QPainter &painter, const QPointF &from, const QPointF &to)
{
    QPen pen(felt().line, 1.6);
    pen.setDashPattern({4, 3});
    pen.setCapStyle(Qt::FlatCap);
    painter.setPen(pen);
    painter.drawLine(from, to);
}

void drawFocusStitch(QPainter &painter, const QRectF &around)
{
    QPen pen(felt().thread, 1.2);
    pen.setDashPattern({3.5, 2.5});
    painter.setPen(pen);
    painter.setBrush(Qt::NoBrush);
    painter.drawRoundedRect(around, 5, 5);
}

void drawThreadBox(QPainter &painter, const QRectF &box, double radius)
{
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen(inkOnPhoto(190), 3));
    painter.drawRoundedRect(box, radius, radius);
    painter.setPen(QPen(threadOnPhoto(), 1.4));
    painter.drawRoundedRect(box, radius, radius);
}

} // namespace buttonhole::app

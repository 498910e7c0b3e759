#pragma once

#include <QWidget>

namespace buttonhole::app
{

class Tool;

// Options of tools, as rows for the tray; each is given the tool of its own class.
QWidget *makeBrushOptions(Tool &tool, QWidget *parent);
QWidget *makeMatchOptions(Tool &tool, QWidget *parent);
QWidget *makeOutlineOptions(Tool &tool, QWidget *parent);
QWidget *makeFadeOptions(Tool &tool, QWidget *parent);
QWidget *makeSubjectOptions(Tool &tool, QWidget *parent);

} // namespace buttonhole::app

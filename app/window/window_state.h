#pragma once

#include "canvas/canvas.h"
#include "commands/session.h"

#include <string>

namespace buttonhole::app
{

/// How the window stands: its view and selected line, as a .buttonhole file keeps it.
std::string windowJson(const Session &session, const Canvas &canvas);
/// The same again; what does not fit is left as it is.
void restoreWindow(const std::string &json, Session &session, Canvas &canvas);

} // namespace buttonhole::app

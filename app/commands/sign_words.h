#pragma once

#include "mask/step.h"

#include <QList>
#include <QString>

namespace buttonhole::app
{

/// How a sign of steps is shown, for the tray, the ticket and the menus.
struct SignWords {
    Sign sign;
    QString word;
    QString help; ///< what a step of it does, and its key
    QString mark; ///< in the ticket, before the step
    const char *action;
};

/// All of them, in the order of Sign.
QList<SignWords> signWords();

} // namespace buttonhole::app

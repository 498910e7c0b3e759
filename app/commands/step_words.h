#pragma once

#include "mask/step.h"
#include "tone/grey_mix.h"

#include <QString>

namespace buttonhole::app
{

/// A kind of step in the ticket, e.g. "Brush" or "All but brush".
QString titleOf(const StepShape &shape);
QString titleOf(const Step &step);
/// What is told of it beside that, e.g. "2 strokes". May be empty.
QString summaryOf(const StepShape &shape);
/// The same of the grey, e.g. "Slate, 70 %".
QString summaryOf(const GreyMix &mix);

} // namespace buttonhole::app

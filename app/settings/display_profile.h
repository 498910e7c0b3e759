#pragma once

#include "colour/profile.h"

#include <QString>

namespace buttonhole::app
{

/// The profile pixels on the screen are converted to: the file chosen by hand, else what the X11
/// screen says (_ICC_PROFILE on the root window, ICC Profiles in X Specification 0.4), else sRGB.
/// Profiles that are no RGB matrix profiles count as unknown.
Profile findDisplayProfile(const QString &chosenFile);

} // namespace buttonhole::app

#pragma once

#include <QColor>

namespace buttonhole::app
{

/// What is drawn over photos: light thread with ink under it, so that it is seen on every ground.
inline QColor threadOnPhoto(int alpha = 255)
{
    return {0xFF, 0xF4, 0xDC, alpha};
}
inline QColor inkOnPhoto(int alpha = 255)
{
    return {20, 16, 10, alpha};
}

} // namespace buttonhole::app

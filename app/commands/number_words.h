#pragma once

#include <QString>

#include <string_view>

namespace buttonhole::app
{

/// The word for a kind of adjustment, and for one of its numbers or of a kind of step; of those
/// that have none here, what their ids say: "fogDepth" is "Fog depth".
QString kindWord(std::string_view kind);
QString numberWord(std::string_view kind, std::string_view number);
/// What it does, for its tooltip; may be empty.
QString numberHelp(std::string_view kind, std::string_view number);

} // namespace buttonhole::app

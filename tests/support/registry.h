#pragma once

#include <QObject>
#include <QTest>

#include <functional>

namespace buttonhole::test
{

/// Test classes register themselves under their names.
void registerTest(const char *name, std::function<QObject *()> make);

/// Runs the class named by the first argument with the rest of them; all classes without one.
int runNamed(int argc, char **argv);

} // namespace buttonhole::test

/// One line after each test class; CMake makes a CTest row of it.
#define BUTTONHOLE_TEST(Class)                                                                     \
    static const bool g_registered##Class =                                                        \
        (buttonhole::test::registerTest(#Class, [] { return new Class; }), true);

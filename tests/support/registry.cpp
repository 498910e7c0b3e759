#include "registry.h"

#include <cstdio>
#include <cstring>
#include <map>
#include <memory>
#include <string>

namespace buttonhole::test
{

namespace
{

std::map<std::string, std::function<QObject *()>> &tests()
{
    static std::map<std::string, std::function<QObject *()>> all;
    return all;
}

int runOne(const std::function<QObject *()> &make, int argc, char **argv)
{
    const std::unique_ptr<QObject> test(make());
    return QTest::qExec(test.get(), argc, argv);
}

} // namespace

void registerTest(const char *name, std::function<QObject *()> make)
{
    tests()[name] = std::move(make);
}

int runNamed(int argc, char **argv)
{
    if (argc < 2) {
        int failed = 0;
        for (const auto &[name, make] : tests())
            failed += runOne(make, argc, argv) == 0 ? 0 : 1;
        return failed;
    }
    const auto it = tests().find(argv[1]);
    if (it == tests().end()) {
        std::fprintf(stderr, "no test class %s\n", argv[1]);
        return 1;
    }
    argv[1] = argv[0];
    return runOne(it->second, argc - 1, argv + 1);
}

} // namespace buttonhole::test

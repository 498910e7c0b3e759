#include "registry.h"

#include <QCoreApplication>

int main(int argc, char **argv)
{
    QCoreApplication application(argc, argv);
    return buttonhole::test::runNamed(argc, argv);
}

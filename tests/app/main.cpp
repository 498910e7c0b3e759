#include "registry.h"

#include <QApplication>

int main(int argc, char **argv)
{
    QApplication application(argc, argv);
    return buttonhole::test::runNamed(argc, argv);
}

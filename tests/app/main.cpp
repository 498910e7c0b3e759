#include "registry.h"
#include "window/application.h"

int main(int argc, char **argv)
{
    buttonhole::app::Application application(argc, argv);
    return buttonhole::test::runNamed(argc, argv);
}

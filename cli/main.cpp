#include "run.h"

int main(int argc, char **argv)
{
    return buttonhole::runCli(argc, argv);
}

#include "run.h"

#include <cstdlib>

int main(int argc, char **argv)
{
    setenv("OMP_WAIT_POLICY", "passive", 0); // read when the networks' libraries are loaded
    return buttonhole::runCli(argc, argv);
}

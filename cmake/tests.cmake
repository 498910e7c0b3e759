# Declares one CTest row per test class of a test program: each runs alone, offscreen, in C.UTF-8
# and UTC, with settings and temporary files of its own.
function(buttonhole_tests target label)
    cmake_parse_arguments(ARG "" "TIMEOUT" "CLASSES" ${ARGN})
    if(NOT ARG_TIMEOUT)
        set(ARG_TIMEOUT 120)
    endif()
    foreach(class IN LISTS ARG_CLASSES)
        set(name ${label}.${class})
        set(home ${CMAKE_CURRENT_BINARY_DIR}/home/${name})
        file(MAKE_DIRECTORY ${home})
        add_test(NAME ${name} COMMAND ${target} ${class})
        set_tests_properties(${name} PROPERTIES
            LABELS ${label}
            TIMEOUT ${ARG_TIMEOUT}
            ENVIRONMENT "QT_QPA_PLATFORM=offscreen;LC_ALL=C.UTF-8;TZ=UTC;HOME=${home};XDG_CONFIG_HOME=${home}/config;XDG_DATA_HOME=${home}/data;XDG_CACHE_HOME=${home}/cache;XDG_RUNTIME_DIR=${home}")
    endforeach()
endfunction()

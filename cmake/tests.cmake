# Builds one test program of Qt Test classes and declares one CTest row per class. A class is found
# by its line BUTTONHOLE_TEST(Name). Each runs alone, offscreen, in C.UTF-8 and UTC, with settings
# and temporary files of its own.
function(buttonhole_tests target label)
    cmake_parse_arguments(ARG "" "TIMEOUT" "SOURCES;LIBRARIES;HEADERS" ${ARGN})
    if(NOT ARG_TIMEOUT)
        set(ARG_TIMEOUT 300)
    endif()
    add_executable(${target} ${ARG_SOURCES})
    set_target_properties(${target} PROPERTIES AUTOMOC ON)
    # By itself moc looks again at sources it knows only; this one may be new.
    file(REMOVE ${CMAKE_CURRENT_BINARY_DIR}/${target}_autogen/timestamp)
    target_link_libraries(${target} PRIVATE buttonhole_flags ${ARG_LIBRARIES})
    buttonhole_faster_build(${target} ${ARG_HEADERS})
    # What is tested is optimised and checked; here both would double the compiler's time.
    target_compile_options(${target} PRIVATE -O0)
    if(BUTTONHOLE_SANITIZE MATCHES "undefined")
        target_compile_options(${target} PRIVATE -fno-sanitize=undefined)
    endif()
    foreach(source IN LISTS ARG_SOURCES)
        get_filename_component(source ${source} ABSOLUTE)
        file(STRINGS ${source} lines REGEX "^BUTTONHOLE_TEST\\(")
        # A class added to a file must show up without a hand on this build.
        set_property(DIRECTORY APPEND PROPERTY CMAKE_CONFIGURE_DEPENDS ${source})
        foreach(line IN LISTS lines)
            string(REGEX REPLACE "^BUTTONHOLE_TEST\\(([A-Za-z0-9]+)\\).*" "\\1" class "${line}")
            set(name ${label}.${class})
            set(home ${CMAKE_CURRENT_BINARY_DIR}/home/${name})
            file(MAKE_DIRECTORY ${home}/tmp)
            add_test(NAME ${name} COMMAND ${target} ${class})
            # A test may be skipped for a known reason only; all of them are told by tests/README.md.
            # intercept_tls_get_addr: the leak check takes what libgomp keeps per thread (oneDNN brings
            # it) for a header of the old glibc's and now and then falls over it.
            set_tests_properties(${name} PROPERTIES
                LABELS ${label}
                FAIL_REGULAR_EXPRESSION "SKIP   : [^(]+[(][^)]*[)] ([^k]|k[^n]|kn[^o]|kno[^w])"
                TIMEOUT ${ARG_TIMEOUT}
                ENVIRONMENT "QT_QPA_PLATFORM=offscreen;OMP_WAIT_POLICY=passive;LC_ALL=C.UTF-8;TZ=UTC;HOME=${home};TMPDIR=${home}/tmp;XDG_CONFIG_HOME=${home}/config;XDG_DATA_HOME=${home}/data;XDG_CACHE_HOME=${home}/cache;XDG_RUNTIME_DIR=${home};ASAN_OPTIONS=intercept_tls_get_addr=0;LSAN_OPTIONS=suppressions=${CMAKE_SOURCE_DIR}/tests/lsan.supp;TSAN_OPTIONS=suppressions=${CMAKE_SOURCE_DIR}/tests/tsan.supp")
        endforeach()
    endforeach()
endfunction()

# One INTERFACE target carries every flag of the project's own code.
add_library(buttonhole_flags INTERFACE)
target_compile_options(buttonhole_flags INTERFACE
    -Wall -Wextra -Wpedantic -Wshadow -Wnon-virtual-dtor -Woverloaded-virtual -Wcast-qual
    -ffp-contract=off -fno-math-errno -fno-trapping-math)
if(BUTTONHOLE_WERROR)
    target_compile_options(buttonhole_flags INTERFACE -Werror)
endif()
if(BUTTONHOLE_SANITIZE)
    target_compile_options(buttonhole_flags INTERFACE
        -fsanitize=${BUTTONHOLE_SANITIZE} -fno-sanitize-recover=all -fno-omit-frame-pointer)
    if(BUTTONHOLE_SANITIZE MATCHES "undefined")
        # The address sanitizer finds what these find, and they are a fifth of the compiler's time.
        target_compile_options(buttonhole_flags INTERFACE -fno-sanitize=null,object-size,vptr)
    endif()
    target_link_options(buttonhole_flags INTERFACE -fsanitize=${BUTTONHOLE_SANITIZE})
endif()
if(BUTTONHOLE_LTO)
    set(CMAKE_INTERPROCEDURAL_OPTIMIZATION ON)
endif()

# The window and the command line look at no pixels themselves: in a sanitized build the compiler's
# time is spared there, by half.
function(buttonhole_cheaply_sanitized target)
    if(BUTTONHOLE_SANITIZE)
        target_compile_options(${target} PRIVATE -O0)
        if(BUTTONHOLE_SANITIZE MATCHES "undefined")
            target_compile_options(${target} PRIVATE -fno-sanitize=undefined)
        endif()
    endif()
endfunction()

# What the product's own code is held to besides; in tests a plain 1 may be a float.
add_library(buttonhole_strict INTERFACE)
target_compile_options(buttonhole_strict INTERFACE
    -Wconversion -Wsign-conversion -Wdouble-promotion)
target_link_libraries(buttonhole_strict INTERFACE buttonhole_flags)

# Where BUTTONHOLE_UNITY asks for it, compiles the sources of a target folder by folder, at most
# eight files at a time (sanitized, where nobody waits for one file, 24): what a file names in its
# unnamed namespace must be its own within the folder. Otherwise precompiles the HEADERS named.
function(buttonhole_faster_build target)
    if(NOT BUTTONHOLE_UNITY)
        if(ARGN)
            target_precompile_headers(${target} PRIVATE ${ARGN})
        endif()
        return()
    endif()
    get_target_property(sources ${target} SOURCES)
    set(number 0)
    set(together 8)
    if(BUTTONHOLE_SANITIZE)
        set(together 24)
    endif()
    set(last "")
    list(SORT sources)
    foreach(source IN LISTS sources)
        if(NOT source MATCHES "[.]cpp$")
            continue()
        endif()
        get_filename_component(folder ${source} DIRECTORY)
        if(NOT folder STREQUAL last)
            set(number 0)
        endif()
        set(last ${folder})
        math(EXPR part "${number} / ${together}")
        math(EXPR number "${number} + 1")
        string(MD5 group "${folder} ${part}")
        set_source_files_properties(${source} PROPERTIES UNITY_GROUP ${group})
        if(source MATCHES "_rows[.]cpp$") # compiled once for each kind of processor by itself
            set_source_files_properties(${source} PROPERTIES SKIP_UNITY_BUILD_INCLUSION ON)
        endif()
    endforeach()
    set_target_properties(${target} PROPERTIES UNITY_BUILD ON UNITY_BUILD_MODE GROUP)
    # It takes what is included for a header.
    target_compile_options(${target} PRIVATE -Wno-subobject-linkage)
endfunction()

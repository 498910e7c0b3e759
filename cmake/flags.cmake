# One INTERFACE target carries every flag of the project's own code.
add_library(buttonhole_flags INTERFACE)
target_compile_options(buttonhole_flags INTERFACE
    -Wall -Wextra -Wpedantic -Wshadow -Wnon-virtual-dtor -Woverloaded-virtual -Wcast-qual
    -ffp-contract=off -fno-math-errno)
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

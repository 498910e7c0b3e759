# What a package holds. Modules and models are found from where the program is.
set(BUTTONHOLE_DATA ${CMAKE_INSTALL_DATADIR}/buttonhole)
install(TARGETS buttonhole-cli RUNTIME DESTINATION ${CMAKE_INSTALL_BINDIR})
install(TARGETS buttonhole_formats buttonhole_lettering buttonhole_nets
    LIBRARY DESTINATION ${CMAKE_INSTALL_LIBDIR}/buttonhole)
install(TARGETS buttonhole-draw-svg RUNTIME DESTINATION ${CMAKE_INSTALL_LIBDIR}/buttonhole)
install(DIRECTORY models/ DESTINATION ${BUTTONHOLE_DATA}/models
    PATTERN training EXCLUDE PATTERN tfjs2onnx.py EXCLUDE)
install(DIRECTORY presets/ DESTINATION ${BUTTONHOLE_DATA}/presets)
if(BUTTONHOLE_APP)
    install(TARGETS buttonhole RUNTIME DESTINATION ${CMAKE_INSTALL_BINDIR})
    install(DIRECTORY demo/ DESTINATION ${BUTTONHOLE_DATA}/demo FILES_MATCHING PATTERN "*.jpg"
        PATTERN "*.buttonhole"
        PATTERN README.md)
    install(FILES app/desktop/buttonhole.desktop
        DESTINATION ${CMAKE_INSTALL_DATADIR}/applications)
    install(FILES app/desktop/buttonhole.metainfo.xml
        DESTINATION ${CMAKE_INSTALL_DATADIR}/metainfo)
    install(FILES app/desktop/buttonhole.xml DESTINATION ${CMAKE_INSTALL_DATADIR}/mime/packages)
    set(ICONS ${CMAKE_INSTALL_DATADIR}/icons/hicolor/scalable)
    install(FILES app/resources/buttonhole.svg DESTINATION ${ICONS}/apps)
    install(FILES app/resources/buttonhole.svg DESTINATION ${ICONS}/mimetypes
        RENAME application-x-buttonhole.svg)
endif()
set(BUTTONHOLE_DOCS ${CMAKE_INSTALL_DATADIR}/doc/buttonhole)
install(FILES LICENSE README.md CHANGELOG.md DESTINATION ${BUTTONHOLE_DOCS})
install(DIRECTORY docs/ DESTINATION ${BUTTONHOLE_DOCS}/docs)

# Manual pages, out of what the programs say of themselves.
find_program(HELP2MAN help2man)
function(manual_page target name)
    set(page ${CMAKE_BINARY_DIR}/man/${target}.1)
    add_custom_command(OUTPUT ${page}
        COMMAND ${CMAKE_COMMAND} -E make_directory ${CMAKE_BINARY_DIR}/man
        COMMAND ${CMAKE_COMMAND} -E env QT_QPA_PLATFORM=offscreen LC_ALL=C.UTF-8
            ${HELP2MAN} --no-info --no-discard-stderr --name=${name}
            --version-string=${PROJECT_VERSION} ${ARGN}
            --include=${CMAKE_SOURCE_DIR}/app/desktop/${target}.help2man
            --output=${page} $<TARGET_FILE:${target}>
        DEPENDS ${target} ${CMAKE_SOURCE_DIR}/app/desktop/${target}.help2man VERBATIM)
    set_property(GLOBAL APPEND PROPERTY BUTTONHOLE_MANUALS ${page})
    install(FILES ${page} DESTINATION ${CMAKE_INSTALL_MANDIR}/man1 OPTIONAL)
endfunction()
if(HELP2MAN AND NOT BUTTONHOLE_SANITIZE)
    manual_page(buttonhole-cli "a photo in black and white with chosen parts kept in colour"
        --help-option=--help-all)
    if(BUTTONHOLE_APP)
        manual_page(buttonhole "most of a photo in black and white, what matters in colour")
    endif()
    get_property(manuals GLOBAL PROPERTY BUTTONHOLE_MANUALS)
    add_custom_target(manuals ALL DEPENDS ${manuals})
endif()

# scripts/package makes the Debian package.
set(CPACK_GENERATOR DEB)
set(CPACK_PACKAGE_NAME buttonhole)
set(CPACK_PACKAGE_CONTACT "The Buttonhole developers <developers@buttonhole.invalid>")
set(CPACK_PACKAGE_DESCRIPTION_SUMMARY "most of a photo in black and white, what matters in colour")
set(CPACK_PACKAGE_DESCRIPTION
    "Turns a photograph black and white and keeps chosen subjects or ranges of hue in colour: masks by
brush, selection, hue and subject, checked at the pixel, exported at full size.")
set(CPACK_DEBIAN_PACKAGE_SECTION graphics)
set(CPACK_DEBIAN_PACKAGE_SHLIBDEPS ON)
set(CPACK_DEBIAN_PACKAGE_DEPENDS "libqt6svg6, fonts-inter, opencv-data")
set(CPACK_DEBIAN_FILE_NAME DEB-DEFAULT)
set(CPACK_STRIP_FILES ON)
include(CPack)

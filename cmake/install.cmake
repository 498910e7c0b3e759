# What a package holds. Modules and models are found from where the program is.
set(BUTTONHOLE_DATA ${CMAKE_INSTALL_DATADIR}/buttonhole)
install(TARGETS buttonhole-cli RUNTIME DESTINATION ${CMAKE_INSTALL_BINDIR})
install(TARGETS buttonhole_formats buttonhole_nets
    LIBRARY DESTINATION ${CMAKE_INSTALL_LIBDIR}/buttonhole)
install(DIRECTORY models/ DESTINATION ${BUTTONHOLE_DATA}/models
    PATTERN training EXCLUDE PATTERN "*.py" EXCLUDE)
if(BUTTONHOLE_APP)
    install(TARGETS buttonhole RUNTIME DESTINATION ${CMAKE_INSTALL_BINDIR})
    install(FILES app/desktop/buttonhole.desktop
        DESTINATION ${CMAKE_INSTALL_DATADIR}/applications)
    install(FILES app/resources/buttonhole.svg
        DESTINATION ${CMAKE_INSTALL_DATADIR}/icons/hicolor/scalable/apps)
endif()

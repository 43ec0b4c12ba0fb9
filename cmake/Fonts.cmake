# The program carries its open fonts inside: they are taken from Debian's packages while building.
set(ASPEN_FONTS
  /usr/share/fonts/truetype/lato/Lato-Regular.ttf
  /usr/share/fonts/truetype/lato/Lato-Bold.ttf
  /usr/share/fonts/truetype/vollkorn/Vollkorn-Medium.ttf
  /usr/share/fonts/truetype/vollkorn/Vollkorn-Bold.ttf)
foreach(font ${ASPEN_FONTS})
  if(NOT EXISTS ${font})
    message(FATAL_ERROR "${font} is missing; run ./aspen setup")
  endif()
endforeach()
set(ASPEN_FONTS_QRC ${CMAKE_BINARY_DIR}/aspen_fonts.qrc)
set(content "<RCC><qresource prefix=\"/aspen/fonts\">\n")
foreach(font ${ASPEN_FONTS})
  get_filename_component(name ${font} NAME)
  string(APPEND content "<file alias=\"${name}\">${font}</file>\n")
endforeach()
string(APPEND content "</qresource></RCC>\n")
file(CONFIGURE OUTPUT ${ASPEN_FONTS_QRC} CONTENT "${content}")

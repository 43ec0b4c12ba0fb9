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

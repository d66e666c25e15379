# SPDX-License-Identifier: MIT
# embed(NAME FILE): a text of the sources as `const unsigned char NAME[]` in ${PROJECT_BINARY_DIR}/embedded/NAME.c.
function(embed name file)
  set_property(DIRECTORY APPEND PROPERTY CMAKE_CONFIGURE_DEPENDS ${PROJECT_SOURCE_DIR}/${file})
  file(READ ${PROJECT_SOURCE_DIR}/${file} bytes OFFSET 35 HEX) # behind the line of its licence
  string(REGEX REPLACE "(..)" "0x\\1," bytes "${bytes}")
  string(REGEX REPLACE "(................................................................................)" "\\1\n" bytes "${bytes}")
  file(CONFIGURE OUTPUT ${PROJECT_BINARY_DIR}/embedded/${name}.c
    CONTENT "#include \"sheet/page_texts.h\"\nconst unsigned char ${name}[] = {${bytes}0};\n")
endfunction()

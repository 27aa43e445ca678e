# The arrows between the layers of core go one way. Each layer may include only the ones named behind it.
set(TACK_LAYERS
    "math:"
    "mesh:math"
    "view:math,mesh"
    "scene:math,mesh"
    "entry:math"
    "catch:math,mesh,view,scene,entry"
    "fit:math,mesh,view,scene,entry,catch"
    "verbs:math,mesh,view,scene,entry,catch,fit"
    "hands:math,mesh,view,scene,entry,catch,fit,verbs"
    "files:math,mesh,view,scene,entry,catch,fit,verbs")

# Stops the configuration when a file of core includes a layer it must not know, Qt, or drawing.
function(tack_check_layers)
  foreach(rule ${TACK_LAYERS})
    string(REPLACE ":" ";" parts "${rule}")
    list(GET parts 0 layer)
    string(REGEX REPLACE "^[^:]*:" "" allowed "${rule}")
    string(REPLACE "," ";" allowed "${allowed}")
    list(APPEND allowed ${layer})
    file(GLOB files ${CMAKE_SOURCE_DIR}/core/${layer}/*.h ${CMAKE_SOURCE_DIR}/core/${layer}/*.cpp)
    foreach(file ${files})
      file(STRINGS ${file} includes REGEX "^#include")
      foreach(line ${includes})
        if(line MATCHES "\"core/([a-z]+)/" AND NOT CMAKE_MATCH_1 IN_LIST allowed)
          message(FATAL_ERROR "${file}: core/${layer} must not include core/${CMAKE_MATCH_1}")
        endif()
        if(line MATCHES "[<\"](Q[A-Z]|Qt|epoxy|app/|draw/)")
          message(FATAL_ERROR "${file}: core knows neither Qt nor drawing (${line})")
        endif()
      endforeach()
      set_property(DIRECTORY APPEND PROPERTY CMAKE_CONFIGURE_DEPENDS ${file})
    endforeach()
  endforeach()
  # The app shows and steers; geometry belongs to the core.
  file(GLOB_RECURSE files ${CMAKE_SOURCE_DIR}/app/*.h ${CMAKE_SOURCE_DIR}/app/*.cpp)
  foreach(file ${files})
    file(STRINGS ${file} includes REGEX "^#include.*(Eigen|core/math/(split|degrees))")
    if(includes)
      message(FATAL_ERROR "${file}: geometry belongs to core (${includes})")
    endif()
  endforeach()
endfunction()
tack_check_layers()

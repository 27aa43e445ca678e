# Warnings are errors, for every target of ours.
function(tack_warnings target)
  target_compile_options(${target} PRIVATE -Wall -Wextra -Wpedantic -Wshadow -Wnon-virtual-dtor -Woverloaded-virtual
                                           -Wcast-align -Wunused -Wnull-dereference -Wformat=2 -Werror)
  if(CMAKE_CXX_COMPILER_ID STREQUAL "GNU")
    # -Wnull-dereference is noise with the optimiser's view of std containers; array bounds likewise in GCC 12.
    target_compile_options(${target} PRIVATE -Wno-null-dereference -Wduplicated-cond -Wlogical-op
                                             -Wno-missing-field-initializers)
    if(CMAKE_UNITY_BUILD)
      # Several sources in one: their unnamed namespaces look as if they stood in a header.
      target_compile_options(${target} PRIVATE -Wno-subobject-linkage -Wno-maybe-uninitialized)
    endif()
  else()
    target_compile_options(${target} PRIVATE -Wno-missing-field-initializers)
  endif()
endfunction()

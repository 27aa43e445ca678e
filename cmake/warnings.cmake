# Warnings are errors, for every target of ours.
function(tack_warnings target)
  target_compile_options(${target} PRIVATE -Wall -Wextra -Wpedantic -Wshadow -Wnon-virtual-dtor -Woverloaded-virtual
                                           -Wcast-align -Wunused -Wnull-dereference -Wformat=2 -Werror)
  if(CMAKE_CXX_COMPILER_ID STREQUAL "GNU")
    # -Wnull-dereference is noise with the optimiser's view of std containers; array bounds likewise in GCC 12.
    target_compile_options(${target} PRIVATE -Wno-null-dereference -Wduplicated-cond -Wlogical-op
                                             -Wno-missing-field-initializers)
  else()
    target_compile_options(${target} PRIVATE -Wno-missing-field-initializers)
  endif()
endfunction()

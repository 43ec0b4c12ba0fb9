# From nothing, most of compiling is reading headers: with ASPEN_UNITY a floor is read in a few large units and no header is
# prepared (it would be read as often). After an edit one file at a time is quicker, with what it reads anyway prepared.
# For this the names of one floor are unique; `./aspen lint` says which are not.
function(aspen_together target batch headers)
  if(ASPEN_UNITY)
    if(NOT batch)
      set(batch 0)  # all in one
    endif()
    set_target_properties(${target} PROPERTIES UNITY_BUILD ON UNITY_BUILD_BATCH_SIZE ${batch})
    # GCC collects its garbage once there is a gigabyte of it: an eighth of the time of a large unit goes there.
    target_compile_options(${target} PRIVATE $<$<CXX_COMPILER_ID:GNU>:--param=ggc-min-heapsize=1048576>)
  elseif(headers)
    target_precompile_headers(${target} PRIVATE ${headers})
  endif()
endfunction()

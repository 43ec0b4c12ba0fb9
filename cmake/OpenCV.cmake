# The few modules of OpenCV that are used. Debian's cmake files for OpenCV come only with the package that pulls in every
# module and all they need; the single modules' packages do without.
find_path(OPENCV_INCLUDE opencv2/dnn.hpp PATH_SUFFIXES opencv4 REQUIRED)
add_library(aspen_opencv INTERFACE)
target_include_directories(aspen_opencv SYSTEM INTERFACE ${OPENCV_INCLUDE})
foreach(module core imgproc video calib3d dnn)
  find_library(OPENCV_${module} opencv_${module} REQUIRED)
  target_link_libraries(aspen_opencv INTERFACE ${OPENCV_${module}})
endforeach()

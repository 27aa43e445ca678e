#include "import-helper/assimp_library.h"

#include <dlfcn.h>

namespace tack {

Result<AssimpLibrary> load_assimp() {
  void* library = ::dlopen("libassimp.so.5", RTLD_NOW | RTLD_LOCAL);
  if (!library)
    return fail("Files of this format are read by the Assimp library, which is not installed.", {},
                "Install libassimp5.");
  AssimpLibrary a;
  bool all = true;
  const auto find = [&](auto& function, const char* name) {
    function = reinterpret_cast<std::decay_t<decltype(function)>>(::dlsym(library, name));
    all &= function != nullptr;
  };
  find(a.import, "aiImportFileExWithProperties");
  find(a.release, "aiReleaseImport");
  find(a.error, "aiGetErrorString");
  find(a.supports, "aiIsExtensionSupported");
  find(a.new_properties, "aiCreatePropertyStore");
  find(a.free_properties, "aiReleasePropertyStore");
  find(a.set_integer, "aiSetImportPropertyInteger");
  find(a.colour, "aiGetMaterialColor");
  find(a.number, "aiGetMaterialFloatArray");
  find(a.text, "aiGetMaterialString");
  find(a.texture, "aiGetMaterialTexture");
  if (!all) return fail("The Assimp library that is installed is another one than was expected.");
  return a;
}

}  // namespace tack

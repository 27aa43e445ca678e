// The Assimp library, loaded at run time: the program works without it.
#pragma once

#include <assimp/cfileio.h>
#include <assimp/cimport.h>
#include <assimp/material.h>
#include <assimp/scene.h>

#include "core/printable.h"
#include "core/problem.h"

namespace tack {

/// The functions of the library's C interface that are used here.
struct AssimpLibrary {
  decltype(&::aiImportFileExWithProperties) import = nullptr;
  decltype(&::aiReleaseImport) release = nullptr;
  decltype(&::aiGetErrorString) error = nullptr;
  decltype(&::aiIsExtensionSupported) supports = nullptr;
  decltype(&::aiCreatePropertyStore) new_properties = nullptr;
  decltype(&::aiReleasePropertyStore) free_properties = nullptr;
  decltype(&::aiSetImportPropertyInteger) set_integer = nullptr;
  decltype(&::aiGetMaterialColor) colour = nullptr;
  decltype(&::aiGetMaterialFloatArray) number = nullptr;
  decltype(&::aiGetMaterialString) text = nullptr;
  decltype(&::aiGetMaterialTexture) texture = nullptr;
};

/// Loads it; it stays loaded. Fails in words where it is not installed.
Result<AssimpLibrary> load_assimp();

/// A text of the library's as UTF-8.
inline std::string text_of(const aiString& text) { return as_utf8(std::string_view(text.data, text.length)); }

}  // namespace tack

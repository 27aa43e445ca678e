// What tests of documents share: reading one back, and the official validator's word on it.
#pragma once

#include <catch2/catch.hpp>
#include <cstdlib>

#include "core/files/document.h"
#include "core/files/save.h"
#include "tests/support.h"

namespace tack::test {

// A box with a skewed placement, and one that hangs on it.
inline Scene two_boxes() {
  Scene scene;
  Placement p;
  p.skew = {0.2, 0, 0};
  p.rotation = {10, 20, 30};
  const PartId a = scene.add(part_of("A", cube(10), p));
  scene.add(part_of("B", cube(3), {}, a));
  return scene;
}

inline Document read_back(const Bytes& bytes) {
  const auto delivery = read_delivery(bytes, "document.glb", {});
  REQUIRE(delivery);
  auto document = document_of(*delivery);
  REQUIRE(document);
  return *document;
}

// 0 errors and 0 warnings by the official validator; information about our own extensions is expected.
inline void check_valid(const Bytes& bytes) {
  const Folder folder;
  const std::string path = folder / "document.glb";
  REQUIRE(save_atomically(path, bytes));
  const std::string command =
      "node " + source("tests/validator/validate.js") + " " + path + " > " + (folder / "out") + " 2>&1";
  const int status = std::system(command.c_str());
  const auto out = read_file(folder / "out");
  INFO(std::string(out->begin(), out->end()));
  CHECK(status == 0);
}

}  // namespace tack::test

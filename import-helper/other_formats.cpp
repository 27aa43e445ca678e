#include "import-helper/other_formats.h"

#include <assimp/config.h>
#include <assimp/postprocess.h>
#include <fmt/format.h>

#include <map>

#include "core/files/gltf_colours.h"
#include "core/files/gltf_make.h"
#include "core/files/gltf_node.h"
#include "core/math/split.h"
#include "core/mesh/triangulate.h"
#include "core/printable.h"
#include "import-helper/animations.h"
#include "import-helper/assimp_files.h"

namespace tack {
namespace {

Affine affine_of(const aiMatrix4x4& m) {
  return {{{Vec3{m.a1, m.b1, m.c1}, Vec3{m.a2, m.b2, m.c2}, Vec3{m.a3, m.b3, m.c3}}}, {m.a4, m.b4, m.c4}};
}

std::array<float, 16> columns_of(const aiMatrix4x4& m) {
  return {m.a1, m.b1, m.c1, 0, m.a2, m.b2, m.c2, 0, m.a3, m.b3, m.c3, 0, m.a4, m.b4, m.c4, 1};
}

bool is_finite_matrix(const aiMatrix4x4& m) {
  for (unsigned r = 0; r < 4; ++r)
    for (unsigned c = 0; c < 4; ++c)
      if (!std::isfinite(m[r][c])) return false;
  return true;
}

bool ends_in(const std::filesystem::path& path, std::initializer_list<std::string_view> all) {
  const std::string ending = path.extension().string();
  return std::any_of(all.begin(), all.end(), [&](std::string_view e) {
    return ending.size() == e.size() && std::equal(e.begin(), e.end(), ending.begin(), [](char a, char b) {
             return a == std::tolower(static_cast<unsigned char>(b));
           });
  });
}

// Metres and Y up, from what the library delivers: it turns most formats to Y up itself, but leaves FBX as it is and
// says so in the scene's notes.
Affine to_metres(const aiScene& scene, const std::filesystem::path& path, const ImportOptions& options,
                 FileAxes& read_as) {
  double millimetres =
      ends_in(path, {".dae", ".x3d", ".x3db", ".x3dz", ".wrl", ".ifc", ".ifczip", ".blend", ".lwo", ".lws"}) ? 1000 : 1;
  bool z_up = ends_in(path, {".3mf", ".amf"});
  if (ends_in(path, {".fbx"})) {
    millimetres = 10;
    if (const aiMetadata* notes = scene.mMetaData)
      for (unsigned i = 0; i < notes->mNumProperties; ++i) {
        const std::string key = text_of(notes->mKeys[i]);
        const aiMetadataEntry& entry = notes->mValues[i];
        if (key == "UnitScaleFactor" && entry.mType == AI_DOUBLE)
          millimetres = 10 * *static_cast<const double*>(entry.mData);
        if (key == "UnitScaleFactor" && entry.mType == AI_FLOAT)
          millimetres = 10.0 * static_cast<double>(*static_cast<const float*>(entry.mData));
        if (key == "UpAxis" && entry.mType == AI_INT32) z_up = *static_cast<const std::int32_t*>(entry.mData) == 2;
      }
    if (!(millimetres > 0) || !std::isfinite(millimetres)) millimetres = 10;
  }
  read_as = axes_for(options, FileAxes{millimetres, z_up ? UpAxis::Z : UpAxis::Y}, {});
  const double metres = read_as.unit / 1000;
  Affine result;
  result.linear = Mat3::diagonal({metres, metres, metres});
  // Z up to Y up: (x, y, z) becomes (x, z, −y).
  if (read_as.up == UpAxis::Z) result.linear = Mat3{{Vec3{metres, 0, 0}, Vec3{0, 0, -metres}, Vec3{0, metres, 0}}};
  return result;
}

class GltfMaker {
 public:
  // Whether the library says how far shapes are on at rest: of FBX files it takes each for fully on.
  GltfMaker(const AssimpLibrary& library, const aiScene& scene, bool shapes_at_rest, const FilesBeside& beside,
            std::vector<std::string>& notes)
      : library_(library),
        scene_(scene),
        shapes_at_rest_(shapes_at_rest),
        notes_(notes),
        pictures_(json_, binary_, beside, notes) {}

  Result<Glb> make(const Affine& to_metres) {
    if (!scene_.mRootNode) return fail("There is nothing in this file.");
    json_ = {{"asset", {{"version", "2.0"}}}, {"nodes", Json::array()}};
    add_materials();
    find_moving();
    // Where nothing moves units and axes are taken into meshes and places, so that parts read as their file has them;
    // what is animated or bent stays as it is below a node that converts.
    bool stands_still = scene_.mNumAnimations == 0;
    for (unsigned m = 0; m < scene_.mNumMeshes; ++m) stands_still = stands_still && !scene_.mMeshes[m]->HasBones();
    if (const auto back = inverse(to_metres); stands_still && back) {
      into_ = to_metres;
      out_of_ = *back;
    }
    if (const auto ok = add_node(*scene_.mRootNode, 1); !ok) return tl::unexpected(ok.error());
    add_skins();
    left_still_ = add_animations(scene_, nodes_, json_, arrays_);
    place_in(to_metres * out_of_);
    json_["scene"] = 0;
    if (!binary_.empty()) json_["buffers"] = Json::array({Json{{"byteLength", binary_.size()}}});
    say_what_is_left_out();
    return Glb{std::move(json_), binary_.whole()};
  }

 private:
  static Json matrix_json(const Affine& a) {
    Json list = Json::array();
    for (int c = 0; c < 3; ++c) {
      for (int r = 0; r < 3; ++r) list.push_back(a.linear(r, c) + 0.0);
      list.push_back(0.0);
    }
    for (int r = 0; r < 3; ++r) list.push_back(a.translation[r] + 0.0);
    list.push_back(1.0);
    return list;
  }

  // A node's place, in the units and axes that its mesh has been brought into.
  Affine placed(const aiNode& node) const { return into_ * affine_of(node.mTransformation) * out_of_; }

  void add_materials() {
    for (unsigned i = 0; i < scene_.mNumMaterials; ++i) {
      const aiMaterial* m = scene_.mMaterials[i];
      aiString name;
      const bool named = library_.text(m, AI_MATKEY_NAME, &name) == aiReturn_SUCCESS && name.length > 0;
      aiColor4D c{1, 1, 1, 1};
      if (library_.colour(m, AI_MATKEY_BASE_COLOR, &c) != aiReturn_SUCCESS)
        library_.colour(m, AI_MATKEY_COLOR_DIFFUSE, &c);
      ai_real opacity = 1;
      unsigned count = 1;
      if (library_.number(m, AI_MATKEY_OPACITY, &opacity, &count) == aiReturn_SUCCESS && opacity < 1) c.a = opacity;
      const auto channel = [](ai_real v) {
        return std::isfinite(v) ? std::clamp(static_cast<float>(v), 0.0f, 1.0f) : 1.0f;
      };
      Json material = plain_material(named ? text_of(name) : fmt::format("Material {}", i),
                                     {channel(c.r), channel(c.g), channel(c.b), std::max(0.05f, channel(c.a))});
      aiString file;
      for (const aiTextureType type : {aiTextureType_BASE_COLOR, aiTextureType_DIFFUSE})
        if (file.length == 0) library_.texture(m, type, 0, &file, nullptr, nullptr, nullptr, nullptr, nullptr, nullptr);
      if (const int texture = file.length == 0 ? -1 : texture_of(text_of(file)); texture >= 0)
        material["pbrMetallicRoughness"]["baseColorTexture"] = {{"index", texture}};
      if (!json_.contains("materials")) json_["materials"] = Json::array();
      json_["materials"].push_back(std::move(material));
    }
  }

  // A picture beside the file, or one in it: "*3", or by the name that it has there.
  int texture_of(const std::string& file) {
    const aiTexture* inside = nullptr;
    if (file.starts_with('*')) {
      const auto number = static_cast<unsigned>(std::strtoul(file.c_str() + 1, nullptr, 10));
      if (number < scene_.mNumTextures) inside = scene_.mTextures[number];
    } else {
      const auto last = [](const std::string& path) { return path.substr(path.find_last_of("/\\") + 1); };
      for (unsigned i = 0; i < scene_.mNumTextures && !inside; ++i)
        if (last(text_of(scene_.mTextures[i]->mFilename)) == last(file)) inside = scene_.mTextures[i];
    }
    if (!inside) return pictures_.texture(file);
    if (inside->mHeight != 0) {
      notes_.push_back(fmt::format("The picture {} has no format of a file and was left out.", printable(file, 100)));
      return -1;
    }
    const auto [known, fresh] = inside_.try_emplace(inside, -1);
    if (fresh)
      known->second = pictures_.texture(
          file, {reinterpret_cast<const std::uint8_t*>(inside->pcData), static_cast<std::size_t>(inside->mWidth)});
    return known->second;
  }

  // Nodes that are animated, which must have translation, rotation and scale instead of a matrix.
  void find_moving() {
    for (unsigned a = 0; a < scene_.mNumAnimations; ++a)
      for (unsigned c = 0; c < scene_.mAnimations[a]->mNumChannels; ++c)
        moving_.insert(text_of(scene_.mAnimations[a]->mChannels[c]->mNodeName));
  }

  Result<int> add_node(const aiNode& node, int depth) {
    if (depth > 900) return fail("The parts are nested more than 900 deep.");
    const auto number = json_["nodes"].size();
    json_["nodes"].push_back(Json::object());
    Json n = Json::object();
    const std::string name = text_of(node.mName);
    if (!name.empty()) n["name"] = name;
    nodes_.numbers.try_emplace(name, static_cast<int>(number));
    if (!is_finite_matrix(node.mTransformation))
      return fail(fmt::format("\"{}\" is placed by numbers that are not finite.", printable(name, 100)));
    const Affine local = placed(node);
    if (moving_.contains(name)) {
      const auto split = split_linear(local.linear);
      if (split) write_transform(n, local.translation, split->rotation, split->scale);
    } else if (local != Affine{}) {
      n["matrix"] = matrix_json(local);
    }
    if (node.mNumMeshes > 0) {
      const auto mesh = mesh_of(node, name);
      if (!mesh) return tl::unexpected(mesh.error());
      if (*mesh >= 0) {
        n["mesh"] = *mesh;
        if (const Json& made = json_["meshes"][static_cast<std::size_t>(*mesh)]; made.contains("weights"))
          nodes_.shapes[static_cast<int>(number)] = made["weights"];
        bool bones = false;
        for (unsigned i = 0; i < node.mNumMeshes; ++i) bones |= scene_.mMeshes[node.mMeshes[i]]->HasBones();
        if (bones) skinned_.emplace_back(static_cast<int>(number), &node);
      }
    }
    Json children = Json::array();
    for (unsigned i = 0; i < node.mNumChildren; ++i) {
      // Some of the library's readers count children that they have not made.
      if (!node.mChildren[i]) continue;
      auto child = add_node(*node.mChildren[i], depth + 1);
      if (!child) return child;
      children.push_back(*child);
    }
    if (!children.empty()) n["children"] = std::move(children);
    json_["nodes"][number] = std::move(n);
    return static_cast<int>(number);
  }

  // Units and axes go into the node at the top, or below it where that is nothing but a root; where the top is
  // animated, a node above it takes them.
  void place_in(const Affine& to_metres) {
    const aiNode& top = *scene_.mRootNode;
    const auto moves = [&](const aiNode& node) { return moving_.contains(text_of(node.mName)); };
    bool empty = top.mNumMeshes == 0 && top.mNumChildren > 0 && !moves(top);
    for (unsigned i = 0; i < top.mNumChildren; ++i) empty = empty && top.mChildren[i] && !moves(*top.mChildren[i]);
    for (const auto& [number, node] : skinned_)
      for (const aiBone* bone : bones_of(*node)) empty = empty && !(bone->mName == top.mName);
    Json roots = Json::array();
    const Affine own = placed(top);
    if (empty) {
      // Its number stays, and nothing is below it any more.
      roots = json_["nodes"][0]["children"];
      json_["nodes"][0].erase("children");
      for (std::size_t i = 0; i < roots.size(); ++i) {
        const Affine at = to_metres * own * placed(*top.mChildren[i]);
        Json& node = json_["nodes"][roots[i].get<std::size_t>()];
        if (at == Affine{})
          node.erase("matrix");
        else
          node["matrix"] = matrix_json(at);
      }
    } else if (!moves(top)) {
      roots = Json::array({0});
      if (to_metres * own != Affine{}) json_["nodes"][0]["matrix"] = matrix_json(to_metres * own);
    } else {
      roots = Json::array({json_["nodes"].size()});
      json_["nodes"].push_back({{"name", "Units and axes"}, {"children", {0}}, {"matrix", matrix_json(to_metres)}});
    }
    json_["scenes"] = Json::array({Json{{"nodes", roots}}});
  }

  // The bones of all meshes of a node, in order of first appearance.
  std::vector<const aiBone*> bones_of(const aiNode& node) const {
    std::vector<const aiBone*> bones;
    for (unsigned i = 0; i < node.mNumMeshes; ++i) {
      const aiMesh& mesh = *scene_.mMeshes[node.mMeshes[i]];
      for (unsigned b = 0; b < mesh.mNumBones; ++b)
        if (std::none_of(bones.begin(), bones.end(),
                         [&](const aiBone* k) { return k->mName == mesh.mBones[b]->mName; }))
          bones.push_back(mesh.mBones[b]);
    }
    return bones;
  }

  // The meshes of a node as one, each of them a primitive; −1 when none of them has a triangle.
  Result<int> mesh_of(const aiNode& node, const std::string& name) {
    std::vector<unsigned> key(node.mMeshes, node.mMeshes + node.mNumMeshes);
    if (const auto known = meshes_.find(key); known != meshes_.end()) return known->second;
    for (const unsigned m : key)
      if (m >= scene_.mNumMeshes || !scene_.mMeshes[m]) return fail("A part names a mesh that is not there.");
    Json primitives = Json::array();
    const std::vector<const aiBone*> bones = bones_of(node);
    if (bones.size() > 65535) return fail(fmt::format("\"{}\" has more than 65535 bones.", printable(name, 100)));
    Json weights = Json::array();
    for (const unsigned m : key) {
      auto primitive = primitive_of(*scene_.mMeshes[m], bones, weights);
      if (!primitive) return tl::unexpected(primitive.error());
      if (!primitive->empty()) primitives.push_back(std::move(*primitive));
    }
    part_targets(primitives, weights);
    int number = -1;
    if (!primitives.empty()) {
      if (!json_.contains("meshes")) json_["meshes"] = Json::array();
      number = static_cast<int>(json_["meshes"].size());
      Json doubles = Json::array(), hashes = Json::array();
      bool any = false;
      for (Json& primitive : primitives) {
        const bool has = primitive.contains("TACKPOINT_mesh");
        doubles.push_back(has ? primitive["TACKPOINT_mesh"]["positions"][0] : Json(nullptr));
        hashes.push_back(has ? primitive["TACKPOINT_mesh"]["hashes"][0] : Json(""));
        primitive.erase("TACKPOINT_mesh");
        any = any || has;
      }
      Json mesh{{"name", name}, {"primitives", std::move(primitives)}};
      if (any) {
        mesh["extensions"] = {{"TACKPOINT_mesh", {{"positions", doubles}, {"hashes", hashes}}}};
        json_["extensionsUsed"] = Json::array({"TACKPOINT_mesh"});
      }
      if (!weights.empty()) mesh["weights"] = weights;
      json_["meshes"].push_back(std::move(mesh));
    }
    return meshes_[key] = number;
  }

  Result<Json> primitive_of(const aiMesh& mesh, const std::vector<const aiBone*>& bones, Json& weights) {
    std::vector<Vec3> positions;
    positions.reserve(mesh.mNumVertices);
    for (unsigned v = 0; v < mesh.mNumVertices; ++v) {
      positions.push_back(into_ * Vec3{mesh.mVertices[v].x, mesh.mVertices[v].y, mesh.mVertices[v].z});
      if (!is_finite(positions.back())) return fail(fmt::format("Vertex {} has a coordinate that is not a number.", v));
    }
    std::vector<Triangle> triangles;
    std::vector<std::uint32_t> corners;
    for (unsigned f = 0; f < mesh.mNumFaces; ++f) {
      const aiFace& face = mesh.mFaces[f];
      corners.assign(face.mIndices, face.mIndices + face.mNumIndices);
      for (const std::uint32_t v : corners)
        if (v >= positions.size())
          return fail(fmt::format("A face names vertex {}, but there are {}.", v, positions.size()));
      if (corners.size() == 2) ++lines_;
      if (corners.size() == 1) ++points_;
      triangulate(positions, corners, triangles);
    }
    if (triangles.empty()) return Json::object();
    std::vector<std::array<float, 3>> normals;
    if (mesh.mNormals)
      for (unsigned v = 0; v < mesh.mNumVertices; ++v) {
        const Vec3 n = normalized(into_.linear * Vec3{mesh.mNormals[v].x, mesh.mNormals[v].y, mesh.mNormals[v].z});
        normals.push_back({static_cast<float>(n.x), static_cast<float>(n.y), static_cast<float>(n.z)});
      }
    MeshExtras extras;
    if (mesh.mTextureCoords[0])
      for (unsigned v = 0; v < mesh.mNumVertices; ++v)
        extras.places.push_back({finite(mesh.mTextureCoords[0][v].x), 1 - finite(mesh.mTextureCoords[0][v].y)});
    if (mesh.mColors[0])
      for (unsigned v = 0; v < mesh.mNumVertices; ++v) {
        const aiColor4D& c = mesh.mColors[0][v];
        extras.colours.push_back({share(c.r), share(c.g), share(c.b), share(c.a)});
      }
    const Primitive all{0, static_cast<std::uint32_t>(positions.size()), 0,
                        static_cast<std::uint32_t>(triangles.size())};
    Json geometry = geometry_of(arrays_, positions, triangles, normals, std::span(&all, 1), extras);
    Json primitive = std::move(geometry["primitives"][0]);
    // Positions that float does not hold, in double beside it; put together by mesh_of().
    if (geometry.contains("extensions")) primitive["TACKPOINT_mesh"] = geometry["extensions"]["TACKPOINT_mesh"];
    if (mesh.mMaterialIndex < scene_.mNumMaterials) primitive["material"] = mesh.mMaterialIndex;
    if (!bones.empty()) add_bones(mesh, bones, primitive);
    add_targets(mesh, primitive, weights);
    return primitive;
  }

  static float finite(ai_real v) { return std::isfinite(v) ? static_cast<float>(v) : 0.0f; }
  static float share(ai_real v) { return std::clamp(finite(v), 0.0f, 1.0f); }

  void add_bones(const aiMesh& mesh, const std::vector<const aiBone*>& bones, Json& primitive) {
    std::vector<std::vector<std::pair<float, std::uint16_t>>> of(mesh.mNumVertices);
    for (unsigned b = 0; b < mesh.mNumBones; ++b) {
      const aiBone& bone = *mesh.mBones[b];
      const auto at = std::find_if(bones.begin(), bones.end(), [&](const aiBone* k) { return k->mName == bone.mName; });
      for (unsigned w = 0; w < bone.mNumWeights; ++w)
        if (bone.mWeights[w].mVertexId < mesh.mNumVertices && bone.mWeights[w].mWeight > 0)
          of[bone.mWeights[w].mVertexId].emplace_back(static_cast<float>(bone.mWeights[w].mWeight),
                                                      static_cast<std::uint16_t>(at - bones.begin()));
    }
    std::size_t most = 1;
    for (auto& all : of) {
      std::sort(all.rbegin(), all.rend());
      most = std::max(most, std::min<std::size_t>(all.size(), 8));
    }
    for (std::size_t set = 0; set * 4 < most; ++set) {
      std::vector<std::uint16_t> joints;
      std::vector<float> weights;
      for (const auto& all : of) {
        float sum = 0;
        for (std::size_t k = 0; k < std::min<std::size_t>(all.size(), 8); ++k) sum += all[k].first;
        for (std::size_t k = set * 4; k < set * 4 + 4; ++k) {
          const bool is_there = k < std::min<std::size_t>(all.size(), 8);
          // A vertex that no bone has stays with the first.
          const bool first = all.empty() && k == 0;
          joints.push_back(is_there ? all[k].second : std::uint16_t{0});
          weights.push_back(is_there ? all[k].first / sum : first ? 1.0f : 0.0f);
        }
      }
      const int view = arrays_.view(bytes_in(joints), 34962);
      primitive["attributes"][fmt::format("JOINTS_{}", set)] =
          arrays_.accessor({{"bufferView", view}, {"componentType", 5123}, {"count", of.size()}, {"type", "VEC4"}});
      primitive["attributes"][fmt::format("WEIGHTS_{}", set)] = arrays_.floats(weights, 4);
    }
  }

  // The library's targets are whole meshes; glTF's are offsets. One without positions moves nothing, and is kept for
  // the sake of the others' numbers.
  void add_targets(const aiMesh& mesh, Json& primitive, Json& weights) {
    if (mesh.mNumAnimMeshes == 0) return;
    shapes_off_ += !shapes_at_rest_;
    Json targets = Json::array();
    weights = Json::array();
    for (unsigned t = 0; t < mesh.mNumAnimMeshes; ++t) {
      const aiAnimMesh& target = *mesh.mAnimMeshes[t];
      const bool has = target.mVertices && target.mNumVertices == mesh.mNumVertices;
      std::vector<float> offsets;
      for (unsigned v = 0; v < mesh.mNumVertices; ++v) {
        const aiVector3D off = has ? target.mVertices[v] - mesh.mVertices[v] : aiVector3D();
        const Vec3 offset = into_.linear * Vec3{finite(off.x), finite(off.y), finite(off.z)};
        for (int i = 0; i < 3; ++i) offsets.push_back(static_cast<float>(offset[i]));
      }
      targets.push_back(Json{{"POSITION", arrays_.floats(offsets, 3, true)}});
      weights.push_back(shapes_at_rest_ ? finite(target.mWeight) : 0.0f);
    }
    primitive["targets"] = std::move(targets);
  }

  // All primitives of a mesh have the same number of targets, or else none.
  void part_targets(Json& primitives, Json& weights) {
    std::size_t most = 0;
    bool same = true;
    for (const Json& p : primitives) most = std::max(most, p.contains("targets") ? p["targets"].size() : 0);
    for (const Json& p : primitives) same = same && (p.contains("targets") ? p["targets"].size() : 0) == most;
    if (same) return;
    for (Json& p : primitives) p.erase("targets");
    weights = Json::array();
    targets_dropped_ += most;
  }

  void add_skins() {
    for (const auto& [number, node] : skinned_) {
      const std::vector<const aiBone*> bones = bones_of(*node);
      Json joints = Json::array();
      std::vector<float> binds;
      for (const aiBone* bone : bones) {
        const auto joint = nodes_.numbers.find(text_of(bone->mName));
        if (joint == nodes_.numbers.end() || !is_finite_matrix(bone->mOffsetMatrix)) {
          notes_.push_back(fmt::format("The bone \"{}\" is not in the file; its mesh is left unbent.",
                                       printable(text_of(bone->mName), 100)));
          joints = Json::array();
          break;
        }
        joints.push_back(joint->second);
        for (const float v : columns_of(bone->mOffsetMatrix)) binds.push_back(v);
      }
      if (joints.empty()) continue;
      const int view = arrays_.view(bytes_in(binds), 0);
      const int matrices =
          arrays_.accessor({{"bufferView", view}, {"componentType", 5126}, {"count", joints.size()}, {"type", "MAT4"}});
      if (!json_.contains("skins")) json_["skins"] = Json::array();
      json_["nodes"][static_cast<std::size_t>(number)]["skin"] = json_["skins"].size();
      json_["skins"].push_back({{"inverseBindMatrices", matrices}, {"joints", std::move(joints)}});
    }
  }

  void say_what_is_left_out() {
    std::string what;
    const auto say = [&](std::size_t count, const char* one, const char* several) {
      if (count > 0) what += (what.empty() ? "" : ", ") + fmt::format("{} {}", count, count == 1 ? one : several);
    };
    say(lines_, "line", "lines");
    say(points_, "point", "points");
    say(scene_.mNumCameras, "camera", "cameras");
    say(scene_.mNumLights, "light", "lights");
    say(targets_dropped_, "shape that only some of a part's meshes have",
        "shapes that only some of a part's meshes have");
    say(left_still_.shapes, "animation of shapes that no part has", "animations of shapes that no part has");
    say(left_still_.meshes, "animation that puts other meshes in a part's place",
        "animations that put other meshes in a part's place");
    if (!what.empty()) notes_.push_back(fmt::format("Left out: {}.", what));
    if (shapes_off_ > 0)
      notes_.push_back("The shapes of FBX files are switched off: how far they are on at rest cannot be read.");
  }

  const AssimpLibrary& library_;
  const aiScene& scene_;
  bool shapes_at_rest_;
  std::vector<std::string>& notes_;
  Json json_;
  ByteRuns binary_;
  GltfArrays arrays_{json_, binary_};
  Pictures pictures_;
  std::map<const aiTexture*, int> inside_;
  std::set<std::string> moving_;
  AnimatedNodes nodes_;
  AnimationsLeft left_still_;
  std::map<std::vector<unsigned>, int> meshes_;
  std::vector<std::pair<int, const aiNode*>> skinned_;
  Affine into_, out_of_;  // what meshes are taken into, and back
  std::size_t lines_ = 0, points_ = 0, targets_dropped_ = 0, shapes_off_ = 0;
};

Result<Glb> read_with(const AssimpLibrary& library, ByteView bytes, const std::filesystem::path& path,
                      const ImportOptions& options, const FilesBeside& beside, std::vector<std::string>& notes,
                      FileAxes& read_as) {
  AssimpFiles files(path.filename().string(), bytes, beside);
  aiPropertyStore* properties = library.new_properties();
  library.set_integer(properties, AI_CONFIG_IMPORT_FBX_PRESERVE_PIVOTS, 0);
  const aiScene* scene = library.import(files.path().c_str(), aiProcess_JoinIdenticalVertices, files.io(), properties);
  library.free_properties(properties);
  if (!scene) {
    const std::string ending = path.extension().string();
    if (ending.empty() || library.supports(ending.c_str()) == AI_FALSE)
      return fail(fmt::format("Files ending in \"{}\" cannot be read.", printable(ending, 40)), {},
                  "Use .glb, .gltf, .obj, .stl, .ply, .fbx, .dae, .3mf or .x3d.");
    std::string why = printable(library.error(), 300);
    for (std::size_t at = why.find(kFolder); at != std::string::npos; at = why.find(kFolder))
      why.erase(at, kFolder.size());
    if (why.find("bad_alloc") != std::string::npos) why = "it asks for more memory than may be used for it.";
    return fail(fmt::format("The file cannot be read: {}", why));
  }
  auto made = GltfMaker(library, *scene, !ends_in(path, {".fbx"}), beside, notes)
                  .make(to_metres(*scene, path, options, read_as));
  library.release(scene);
  return made;
}

}  // namespace

decltype(Around::other) other_formats(const FilesBeside& beside) {
  using Notes = std::vector<std::string>;
  const auto saying = [](Problem problem) -> decltype(Around::other) {
    return [problem](ByteView, const std::filesystem::path&, const ImportOptions&, Notes&, FileAxes&) -> Result<Glb> {
      return tl::unexpected(problem);
    };
  };
  const auto library = load_assimp();
  if (!library) return saying(library.error());
  return [library = *library, beside](ByteView bytes, const std::filesystem::path& file, const ImportOptions& options,
                                      Notes& notes, FileAxes& read_as) {
    return read_with(library, bytes, file, options, beside, notes, read_as);
  };
}

}  // namespace tack

#include "import-helper/animations.h"

#include <cmath>
#include <set>

namespace tack {
namespace {

constexpr double kNoKeyYet = 1e10;  // ticks

class AnimationsMaker {
 public:
  AnimationsMaker(const aiScene& scene, const AnimatedNodes& nodes, Json& json, GltfArrays& arrays)
      : scene_(scene), nodes_(nodes), json_(json), arrays_(arrays) {}

  AnimationsLeft make() {
    for (unsigned a = 0; a < scene_.mNumAnimations; ++a) {
      const aiAnimation& from = *scene_.mAnimations[a];
      left_.meshes += from.mNumMeshChannels;
      const double ticks = from.mTicksPerSecond > 0 ? from.mTicksPerSecond : 25;
      Json animation{{"channels", Json::array()}, {"samplers", Json::array()}};
      if (from.mName.length > 0) animation["name"] = text_of(from.mName);
      for (unsigned c = 0; c < from.mNumChannels; ++c) {
        const aiNodeAnim& channel = *from.mChannels[c];
        const auto node = nodes_.numbers.find(text_of(channel.mNodeName));
        if (node == nodes_.numbers.end()) continue;
        const auto three = [](const aiVectorKey& k) {
          return std::array<float, 3>{static_cast<float>(k.mValue.x), static_cast<float>(k.mValue.y),
                                      static_cast<float>(k.mValue.z)};
        };
        add_sampler(animation, node->second, "translation", channel.mPositionKeys, channel.mNumPositionKeys, ticks, 3,
                    three);
        add_sampler(animation, node->second, "rotation", channel.mRotationKeys, channel.mNumRotationKeys, ticks, 4,
                    [](const aiQuatKey& k) {
                      aiQuaternion q = k.mValue;
                      q.Normalize();
                      return std::array<float, 4>{static_cast<float>(q.x), static_cast<float>(q.y),
                                                  static_cast<float>(q.z), static_cast<float>(q.w)};
                    });
        add_sampler(animation, node->second, "scale", channel.mScalingKeys, channel.mNumScalingKeys, ticks, 3, three);
      }
      shaped_.clear();
      for (unsigned c = 0; c < from.mNumMorphMeshChannels; ++c)
        left_.shapes += !add_shapes(animation, *from.mMorphMeshChannels[c], ticks);
      if (animation["channels"].empty()) continue;
      if (!json_.contains("animations")) json_["animations"] = Json::array();
      json_["animations"].push_back(std::move(animation));
    }
    return left_;
  }

 private:
  // The keys of one path of a channel, in seconds, each later than the one before.
  template <typename Key, typename Value>
  void add_sampler(Json& animation, int node, const char* path, const Key* keys, unsigned count, double ticks,
                   int components, Value&& value) {
    std::vector<float> times, values;
    for (unsigned k = 0; k < count; ++k) {
      const auto time = static_cast<float>(keys[k].mTime / ticks);
      if (!std::isfinite(time) || time < 0 || (!times.empty() && time <= times.back())) continue;
      times.push_back(time);
      for (const float v : value(keys[k])) values.push_back(std::isfinite(v) ? v : 0);
    }
    add_channel(animation, node, path, times, values, components == 4 ? "VEC4" : "VEC3");
  }

  // `values` are so many for each time as the path has at once.
  void add_channel(Json& animation, int node, const char* path, const std::vector<float>& times,
                   const std::vector<float>& values, const char* type) {
    if (times.empty()) return;
    const int view = arrays_.view(bytes_in(times), 0);
    const int input = arrays_.accessor({{"bufferView", view},
                                        {"componentType", 5126},
                                        {"count", times.size()},
                                        {"type", "SCALAR"},
                                        {"min", Json::array({times.front()})},
                                        {"max", Json::array({times.back()})}});
    const int out = arrays_.view(bytes_in(values), 0);
    const int output = arrays_.accessor({{"bufferView", out},
                                         {"componentType", 5126},
                                         {"count", type == std::string_view("SCALAR") ? values.size() : times.size()},
                                         {"type", type}});
    animation["channels"].push_back(
        {{"sampler", animation["samplers"].size()}, {"target", {{"node", node}, {"path", path}}}});
    animation["samplers"].push_back({{"input", input}, {"output", output}});
  }

  // The node whose shapes a channel moves: called like it, or with a number behind it that tells its meshes apart.
  const int* node_with_shapes(const aiMeshMorphAnim& channel) const {
    const std::string name = text_of(channel.mName);
    for (const std::string& called : {name, name.substr(0, name.find_last_of('*'))})
      if (const auto node = nodes_.numbers.find(called);
          node != nodes_.numbers.end() && nodes_.shapes.contains(node->second))
        return &node->second;
    return nullptr;
  }

  // How much of every shape of a node at every time that has a key. A key may name some of them only: the others are
  // what their own keys before and after say, in proportion, and those without a key stay as they are at rest.
  bool add_shapes(Json& animation, const aiMeshMorphAnim& channel, double ticks) {
    const int* node = node_with_shapes(channel);
    if (!node) return false;
    // Each of a part's meshes may come with a channel of its own, all alike.
    if (!shaped_.insert(*node).second) return true;
    const Json& rest = nodes_.shapes.at(*node);
    std::vector<std::map<float, float>> tracks(rest.size());
    std::set<float> all;
    for (unsigned k = 0; k < channel.mNumKeys; ++k) {
      const aiMeshMorphKey& key = channel.mKeys[k];
      // Where nothing but shapes is animated the library's reader of FBX takes what it began its search for the first
      // key with from every time.
      const double begun = key.mTime < -kNoKeyYet / 2 ? kNoKeyYet : 0;
      const auto time = static_cast<float>((key.mTime + begun) / ticks);
      if (!std::isfinite(time) || time < 0) continue;
      for (unsigned i = 0; i < key.mNumValuesAndWeights; ++i) {
        if (key.mValues[i] >= tracks.size() || !std::isfinite(key.mWeights[i])) continue;
        tracks[key.mValues[i]][time] = static_cast<float>(key.mWeights[i]);
        all.insert(time);
      }
    }
    const std::vector<float> times(all.begin(), all.end());
    std::vector<float> values;
    for (const float time : times)
      for (std::size_t t = 0; t < tracks.size(); ++t) values.push_back(value_at(tracks[t], time, rest[t].get<float>()));
    add_channel(animation, *node, "weights", times, values, "SCALAR");
    return !times.empty();
  }

  static float value_at(const std::map<float, float>& track, float time, float rest) {
    if (track.empty()) return rest;
    const auto next = track.lower_bound(time);
    if (next == track.end()) return track.rbegin()->second;
    if (next->first == time || next == track.begin()) return next->second;
    const auto last = std::prev(next);
    const float share = (time - last->first) / (next->first - last->first);
    return last->second + share * (next->second - last->second);
  }

  const aiScene& scene_;
  const AnimatedNodes& nodes_;
  Json& json_;
  GltfArrays& arrays_;
  std::set<int> shaped_;  // nodes whose shapes the animation moves already
  AnimationsLeft left_;
};

}  // namespace

AnimationsLeft add_animations(const aiScene& scene, const AnimatedNodes& nodes, Json& json, GltfArrays& arrays) {
  return AnimationsMaker(scene, nodes, json, arrays).make();
}

}  // namespace tack

// The JSON type of the core: members keep their order.
#pragma once

#include <nlohmann/json_fwd.hpp>

namespace tack {
using Json = nlohmann::ordered_json;
}

#include "core/mesh/lazy.h"

#include <tbb/task_arena.h>

namespace tack {

void work_isolated(const std::function<void()>& work) { tbb::this_task_arena::isolate(work); }

}  // namespace tack

#include "import-helper/confine.h"

#include <seccomp.h>
#include <signal.h>
#include <sys/prctl.h>
#include <sys/resource.h>
#include <unistd.h>

#include <cerrno>
#include <initializer_list>

namespace tack {
namespace {

void limit(int resource, std::uint64_t most) {
  rlimit both{};
  const auto which = static_cast<__rlimit_resource_t>(resource);
  if (::getrlimit(which, &both) != 0) return;
  if (both.rlim_max == RLIM_INFINITY || both.rlim_max > most) both.rlim_max = most;
  both.rlim_cur = both.rlim_max < most ? both.rlim_max : most;
  ::setrlimit(which, &both);
}

}  // namespace

void limit_resources(std::uint64_t memory, std::uint64_t answer, std::uint64_t seconds) {
#ifndef TACK_SANITIZED  // the sanitizer reserves more address space than any sensible limit
  limit(RLIMIT_AS, memory);
#else
  static_cast<void>(memory);
#endif
  limit(RLIMIT_FSIZE, answer);
  limit(RLIMIT_CPU, seconds);
  limit(RLIMIT_CORE, 0);
  const pid_t parent = ::getppid();
  ::prctl(PR_SET_PDEATHSIG, SIGKILL);
  if (::getppid() != parent || parent == 1) ::_exit(2);
  ::prctl(PR_SET_DUMPABLE, 0);
}

void confine() {
  ::prctl(PR_SET_NO_NEW_PRIVS, 1, 0, 0, 0);
#ifndef TACK_SANITIZED  // its runtime opens files and starts a process of its own
  const scmp_filter_ctx filter = ::seccomp_init(SCMP_ACT_ERRNO(EPERM));
  if (!filter) return;
  for (const int allowed : {SCMP_SYS(read),         SCMP_SYS(pread64),      SCMP_SYS(write),
                            SCMP_SYS(writev),       SCMP_SYS(close),        SCMP_SYS(fstat),
                            SCMP_SYS(newfstatat),   SCMP_SYS(lseek),        SCMP_SYS(brk),
                            SCMP_SYS(mmap),         SCMP_SYS(munmap),       SCMP_SYS(mremap),
                            SCMP_SYS(mprotect),     SCMP_SYS(madvise),      SCMP_SYS(futex),
                            SCMP_SYS(sched_yield),  SCMP_SYS(getrandom),    SCMP_SYS(clock_gettime),
                            SCMP_SYS(gettimeofday), SCMP_SYS(rt_sigreturn), SCMP_SYS(rt_sigprocmask),
                            SCMP_SYS(sendmsg),      SCMP_SYS(recvmsg),      SCMP_SYS(exit),
                            SCMP_SYS(exit_group),   SCMP_SYS(getpid),       SCMP_SYS(gettid),
                            SCMP_SYS(tgkill),       SCMP_SYS(ftruncate)})
    ::seccomp_rule_add(filter, SCMP_ACT_ALLOW, allowed, 0);
  ::seccomp_load(filter);
  ::seccomp_release(filter);
#endif
}

}  // namespace tack

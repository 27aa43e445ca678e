#include "core/files/helper_link.h"

#include <fmt/format.h>
#include <sys/socket.h>
#include <unistd.h>

#include <array>

#include "core/printable.h"

namespace tack {
namespace {

constexpr std::size_t kLongest = 8192;  // bytes of a message

ssize_t send_message(int link, const std::string& text, int file, int flags) {
  iovec part{const_cast<char*>(text.data()), text.size()};
  msghdr message{};
  message.msg_iov = &part;
  message.msg_iovlen = 1;
  alignas(cmsghdr) std::array<char, CMSG_SPACE(sizeof(int))> control{};
  if (file >= 0) {
    message.msg_control = control.data();
    message.msg_controllen = control.size();
    cmsghdr* head = CMSG_FIRSTHDR(&message);
    head->cmsg_level = SOL_SOCKET;
    head->cmsg_type = SCM_RIGHTS;
    head->cmsg_len = CMSG_LEN(sizeof(int));
    std::memcpy(CMSG_DATA(head), &file, sizeof file);
  }
  return ::sendmsg(link, &message, flags | MSG_NOSIGNAL);
}

// The text of a message, and the descriptor that came with it or −1. Empty when there is none.
std::string receive_message(int link, int& file, int flags) {
  std::string text(kLongest, '\0');
  iovec part{text.data(), text.size()};
  msghdr message{};
  message.msg_iov = &part;
  message.msg_iovlen = 1;
  alignas(cmsghdr) std::array<char, CMSG_SPACE(sizeof(int))> control{};
  message.msg_control = control.data();
  message.msg_controllen = control.size();
  ssize_t size = 0;
  do size = ::recvmsg(link, &message, flags | MSG_CMSG_CLOEXEC);
  while (size < 0 && errno == EINTR);
  file = -1;
  for (cmsghdr* head = CMSG_FIRSTHDR(&message); size >= 0 && head; head = CMSG_NXTHDR(&message, head))
    if (head->cmsg_level == SOL_SOCKET && head->cmsg_type == SCM_RIGHTS && head->cmsg_len == CMSG_LEN(sizeof(int)))
      std::memcpy(&file, CMSG_DATA(head), sizeof file);
  text.resize(size > 0 ? static_cast<std::size_t>(size) : 0);
  return text;
}

}  // namespace

Result<Bytes> HelperLink::beside(const std::string& name) const {
  if (name.size() + 1 > kLongest) return fail("The name of a file beside it is too long.");
  int file = -1;
  if (send_message(kLinkFd, "?" + name, -1, 0) < 0) return fail("Files beside this one cannot be asked for.");
  const std::string reply = receive_message(kLinkFd, file, 0);
  if (file >= 0) return read_descriptor(file, printable(name));
  return fail(reply.size() > 1 ? reply.substr(1) : "Files beside this one cannot be asked for.");
}

void HelperLink::progress(double share) const {
  send_message(kLinkFd, fmt::format("%{:.3f}", share), -1, MSG_DONTWAIT);
}

bool answer_helper(int link, const std::filesystem::path& folder, const std::function<void(double)>& progress) {
  for (;;) {
    int file = -1;
    const std::string message = receive_message(link, file, MSG_DONTWAIT);
    if (file >= 0) ::close(file);
    if (message.empty()) return errno == EAGAIN;
    if (message[0] == '%') {
      const double share = std::strtod(message.c_str() + 1, nullptr);
      if (progress && share >= 0 && share <= 1) progress(share);
    } else if (message[0] == '?') {
      const auto found = open_beside(folder, message.substr(1));
      if (found) {
        send_message(link, "+", *found, MSG_DONTWAIT);
        ::close(*found);
      } else {
        send_message(link, "-" + found.error().what, -1, MSG_DONTWAIT);
      }
    } else {
      return false;
    }
  }
}

}  // namespace tack

#include <Rcpp/Lightest>
#include <cerrno>
#include <cstring>
#include <string>

#include <fcntl.h>
#include <sys/stat.h>
#ifdef _WIN32
#include <io.h>
#else
#include <unistd.h>
#endif

// Files written such that nothing that goes wrong is passed over: every byte, the flush to disk and
// the close are checked. Each function gives "" or, in words of the system, what went wrong.
namespace {

#ifdef _WIN32
const int in_bytes = _O_BINARY;
int flush(int file) { return _commit(file); }
#else
const int in_bytes = 0;
int flush(int file) { return fsync(file); }
#endif

std::string why() { return std::strerror(errno); }

std::string put_all(int file, const Rbyte *bytes, R_xlen_t left) {
  while (left > 0) {
    auto done = write(file, bytes, left > (1 << 20) ? (1 << 20) : left);
    if (done < 0 && errno == EINTR) continue;
    if (done <= 0) return why();
    bytes += done;
    left -= done;
  }
  return "";
}

}  // namespace

// What a path leads to: "none", "file", "folder", or "other" (a device, a pipe, a socket).
// [[Rcpp::export]]
std::string path_kind(std::string path) {
  struct stat found;
  if (stat(path.c_str(), &found) != 0) return "none";
  if (S_ISREG(found.st_mode)) return "file";
  return S_ISDIR(found.st_mode) ? "folder" : "other";
}

// Whether two paths lead to one file, as some systems take capitals for small letters.
// [[Rcpp::export]]
bool same_inode(std::string a, std::string b) {
  struct stat one, other;
  if (stat(a.c_str(), &one) != 0 || stat(b.c_str(), &other) != 0) return false;
#ifdef _WIN32
  return true;  // names are the same but for their case there
#else
  return one.st_dev == other.st_dev && one.st_ino == other.st_ino;
#endif
}

// Adds bytes to a file; the first ones make it, and it must not be there yet. The last ones come
// with the mode it is to have, and wait for the disk.
// [[Rcpp::export]]
std::string put_bytes(std::string path, Rcpp::RawVector bytes, bool first, bool last, int mode) {
  int file = open(path.c_str(), O_WRONLY | in_bytes | (first ? O_CREAT | O_EXCL : O_APPEND), 0600);
  if (file < 0) return why();
  std::string wrong = put_all(file, bytes.begin(), bytes.size());
#ifndef _WIN32
  if (wrong.empty() && last && fchmod(file, static_cast<mode_t>(mode)) != 0) wrong = why();
#endif
  if (wrong.empty() && last && flush(file) != 0 && errno != EINVAL && errno != ENOTSUP)
    wrong = why();
  if (close(file) != 0 && wrong.empty()) wrong = why();
  return wrong;
}

// The names of a folder wait for the disk, too, where the system can.
// [[Rcpp::export]]
void flush_folder(std::string path) {
#ifndef _WIN32
  int folder = open(path.c_str(), O_RDONLY);
  if (folder < 0) return;
  (void)flush(folder);
  close(folder);
#endif
}

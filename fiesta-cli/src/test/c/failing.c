// Makes one call that touches files under a folder fail: the FIESTA_FAIL_AT-th, with the error number FIESTA_FAIL_WITH.
// FIESTA_FAIL_UNDER names the folder. Each call is written to FIESTA_FAIL_LOG, where that is set, so that they can be counted.
// Handed to a process by LD_PRELOAD.
#define _GNU_SOURCE
#define _LARGEFILE64_SOURCE
#include <dlfcn.h>
#include <errno.h>
#include <fcntl.h>
#include <stdarg.h>
#include <stdatomic.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <sys/stat.h>
#include <sys/syscall.h>
#include <unistd.h>

static atomic_int calls;

static int fails(const char *what, const char *path) {
  const char *under = getenv("FIESTA_FAIL_UNDER");
  if (under == NULL || path == NULL || strncmp(path, under, strlen(under)) != 0) return 0;
  int call = atomic_fetch_add(&calls, 1) + 1;
  const char *log = getenv("FIESTA_FAIL_LOG");
  if (log != NULL) {
    char line[8192];
    int length = snprintf(line, sizeof line, "%d %s %s\n", call, what, path);
    int file = syscall(SYS_openat, AT_FDCWD, log, O_WRONLY | O_CREAT | O_APPEND, 0644);
    if (syscall(SYS_write, file, line, length) < 0) abort();
    syscall(SYS_close, file);
  }
  const char *at = getenv("FIESTA_FAIL_AT");
  if (at == NULL || atoi(at) != call) return 0;
  errno = atoi(getenv("FIESTA_FAIL_WITH"));
  return 1;
}

static int fails_fd(const char *what, int fd) {
  char link[64], path[4096];
  snprintf(link, sizeof link, "/proc/self/fd/%d", fd);
  ssize_t length = syscall(SYS_readlinkat, AT_FDCWD, link, path, sizeof path - 1);
  if (length < 0) return 0;
  path[length] = 0;
  return fails(what, path);
}

#define NEXT(name) ((__typeof__(&name))dlsym(RTLD_NEXT, #name))
#define BY_PATH(result, name, parameters, path, arguments) \
  result name parameters { return fails(#name, path) ? (result)-1 : NEXT(name) arguments; }
#define BY_FD(result, name, parameters, arguments) \
  result name parameters { return fails_fd(#name, fd) ? (result)-1 : NEXT(name) arguments; }
#define OPEN(name) \
  int name(const char *path, int flags, ...) { \
    va_list more; \
    va_start(more, flags); \
    mode_t mode = va_arg(more, mode_t); \
    va_end(more); \
    return fails(#name, path) ? -1 : NEXT(name)(path, flags, mode); \
  }

OPEN(open)
OPEN(open64)
BY_FD(ssize_t, read, (int fd, void *to, size_t n), (fd, to, n))
BY_FD(ssize_t, pread64, (int fd, void *to, size_t n, off64_t at), (fd, to, n, at))
BY_FD(ssize_t, write, (int fd, const void *from, size_t n), (fd, from, n))
BY_FD(ssize_t, pwrite64, (int fd, const void *from, size_t n, off64_t at), (fd, from, n, at))
BY_FD(int, fsync, (int fd), (fd))
BY_FD(int, fdatasync, (int fd), (fd))
BY_FD(int, ftruncate64, (int fd, off64_t to), (fd, to))
BY_PATH(int, rename, (const char *from, const char *to), from, (from, to))
BY_PATH(int, unlink, (const char *path), path, (path))
BY_PATH(int, rmdir, (const char *path), path, (path))
BY_PATH(int, mkdir, (const char *path, mode_t mode), path, (path, mode))
BY_PATH(int, chmod, (const char *path, mode_t mode), path, (path, mode))
BY_PATH(int, access, (const char *path, int mode), path, (path, mode))
BY_PATH(int, stat64, (const char *path, struct stat64 *to), path, (path, to))
BY_PATH(int, lstat64, (const char *path, struct stat64 *to), path, (path, to))
BY_FD(int, fstat64, (int fd, struct stat64 *to), (fd, to))

// The names of the same calls in programs linked against an older C library.
int __xstat64(int version, const char *path, struct stat64 *to) { (void)version; return stat64(path, to); }
int __lxstat64(int version, const char *path, struct stat64 *to) { (void)version; return lstat64(path, to); }
int __fxstat64(int version, int fd, struct stat64 *to) { (void)version; return fstat64(fd, to); }

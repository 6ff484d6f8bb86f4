#include "core/runner/spawn.h"

#include "link/control.h"

#include <algorithm>
#include <csignal>
#include <spawn.h>

extern char **environ;

namespace pipit
{

std::vector<QByteArray> environmentOf(const ProgramSpec &spec, const QString &socket, const QString &shim,
                                      const QString &recorder)
{
    QStringList add = spec.environment;
    if (spec.record) {
        const QString before = qEnvironmentVariable("LD_PRELOAD");
        add << "LD_PRELOAD=" + shim + (before.isEmpty() ? QString() : ':' + before)
            << QString(link::envSocket) + '=' + socket << QString(link::envRecorder) + '=' + recorder
            << QString(link::envTexts) + '=' +
                   (spec.maskTexts  ? link::textsMasked
                    : spec.ownTexts ? link::textsOwn
                                    : "captions");
    }
    std::vector<QByteArray> all;
    for (char **e = environ; *e; ++e) {
        const QByteArray one(*e);
        const QByteArray name = one.left(one.indexOf('=') + 1);
        const bool replaced = std::any_of(add.begin(), add.end(),
                                          [&](const QString &a) { return a.toUtf8().startsWith(name); });
        if (!replaced)
            all.push_back(one);
    }
    for (const QString &a : add)
        all.push_back(a.toUtf8());
    return all;
}

// The new process has `pipe`, if it is one, under the same number.
static int spawn(pid_t *pid, std::vector<QByteArray> words, const ProgramSpec &spec,
                 const std::vector<QByteArray> &environment, int pipe)
{
    std::vector<char *> argv, envp;
    for (auto &w : words)
        argv.push_back(w.data());
    argv.push_back(nullptr);
    for (const auto &e : environment)
        envp.push_back(const_cast<char *>(e.constData()));
    envp.push_back(nullptr);
    posix_spawn_file_actions_t actions;
    posix_spawn_file_actions_init(&actions);
    if (pipe >= 0)
        posix_spawn_file_actions_adddup2(&actions, pipe, pipe);
    if (!spec.workingFolder.isEmpty())
        posix_spawn_file_actions_addchdir_np(&actions, spec.workingFolder.toUtf8().constData());
    posix_spawnattr_t attributes;
    posix_spawnattr_init(&attributes);
    sigset_t none;
    sigemptyset(&none);
    posix_spawnattr_setsigmask(&attributes, &none);
    sigset_t usual;
    sigemptyset(&usual);
    sigaddset(&usual, SIGXFSZ); // Pipit ignores it: see tellFilesTooLarge
    posix_spawnattr_setsigdefault(&attributes, &usual);
    posix_spawnattr_setflags(&attributes, POSIX_SPAWN_SETSIGMASK | POSIX_SPAWN_SETSIGDEF);
    const int error = posix_spawn(pid, argv[0], &actions, &attributes, argv.data(), envp.data());
    posix_spawnattr_destroy(&attributes);
    posix_spawn_file_actions_destroy(&actions);
    return error;
}

static std::vector<QByteArray> wordsOf(const QString &path, const ProgramSpec &spec)
{
    std::vector<QByteArray> words{path.toUtf8()};
    for (const QString &a : spec.arguments)
        words.push_back(a.toUtf8());
    return words;
}

int spawnProgram(pid_t *pid, const QString &path, const ProgramSpec &spec,
                 const std::vector<QByteArray> &environment)
{
    return spawn(pid, wordsOf(path, spec), spec, environment, -1);
}

int spawnKeeper(pid_t *pid, const QString &keeper, int pipe, const QString &path, const ProgramSpec &spec,
                const std::vector<QByteArray> &environment)
{
    std::vector<QByteArray> words = wordsOf(path, spec);
    words.insert(words.begin(), {keeper.toUtf8(), QByteArray::number(pipe)});
    return spawn(pid, std::move(words), spec, environment, pipe);
}

} // namespace pipit

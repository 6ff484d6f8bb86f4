#include "core/runner/inspect.h"

#include <QFileInfo>
#include <QStandardPaths>
#include <QStringList>

#include <fcntl.h>
#include <gelf.h>
#include <unistd.h>

namespace pipit
{

namespace
{

struct ElfFacts {
    bool elf = false;
    bool amd64 = false;
    bool dynamic = false;
    QStringList needed;
};

void readDynamic(Elf *elf, Elf_Scn *section, const GElf_Shdr &header, ElfFacts &facts)
{
    Elf_Data *data = elf_getdata(section, nullptr);
    const std::size_t count = header.sh_entsize ? header.sh_size / header.sh_entsize : 0;
    for (std::size_t i = 0; data && i < count; ++i) {
        GElf_Dyn dyn;
        if (gelf_getdyn(data, int(i), &dyn) && dyn.d_tag == DT_NEEDED)
            if (const char *name = elf_strptr(elf, header.sh_link, dyn.d_un.d_val))
                facts.needed << QString::fromUtf8(name);
    }
}

ElfFacts readElf(const QString &path)
{
    ElfFacts facts;
    elf_version(EV_CURRENT);
    const int fd = open(path.toUtf8().constData(), O_RDONLY | O_CLOEXEC);
    if (fd < 0)
        return facts;
    if (Elf *elf = elf_begin(fd, ELF_C_READ_MMAP, nullptr)) {
        GElf_Ehdr header;
        if (elf_kind(elf) == ELF_K_ELF && gelf_getehdr(elf, &header)) {
            facts.elf = true;
            facts.amd64 = header.e_machine == EM_X86_64;
            Elf_Scn *section = nullptr;
            while ((section = elf_nextscn(elf, section))) {
                GElf_Shdr sh;
                if (gelf_getshdr(section, &sh) && sh.sh_type == SHT_DYNAMIC) {
                    facts.dynamic = true;
                    readDynamic(elf, section, sh, facts);
                }
            }
        }
        elf_end(elf);
    }
    close(fd);
    return facts;
}

// Of a process, by its number: which program it runs; empty: there is none.
QString runningAs(const QString &number)
{
    bool isNumber = false;
    number.toInt(&isNumber);
    return isNumber ? QFileInfo("/proc/" + number + "/exe").symLinkTarget() : QString();
}

} // namespace

Result<QString> inspectProgram(const QString &program)
{
    QString path = program;
    if (!program.contains('/')) {
        path = QStandardPaths::findExecutable(program);
        if (const QString running = path.isEmpty() ? runningAs(program) : QString(); !running.isEmpty())
            return Problem{
                "Pipit cannot attach to a running program: the recorder must be loaded before Qt starts",
                program, "End the program and start it with: pipit record --out FOLDER -- " + running};
        if (path.isEmpty())
            return Problem{"There is no program of this name in the search path", program,
                           "Give its full path"};
    }
    const QFileInfo info(path);
    if (!info.exists())
        return Problem{"The program does not exist", path, "Check the path"};
    if (info.isDir())
        return Problem{"This is a folder, not a program", path, "Name the program in it"};
    if (!info.isExecutable())
        return Problem{"The file is not executable", path, "Run 'chmod +x' on it, or name another program"};
    const ElfFacts facts = readElf(path);
    if (facts.elf && !facts.amd64)
        return Problem{"The program is not built for this machine's amd64", path,
                       "Record a program built for amd64"};
    if (facts.elf && !facts.dynamic)
        return Problem{"The program is linked statically, so the recorder cannot be loaded into it", path,
                       "Link it dynamically"};
    for (const QString &n : facts.needed)
        if (n.startsWith("libQt5"))
            return Problem{"The program uses Qt 5; Pipit records Qt 6 programs", path,
                           "Record a Qt 6 build of it"};
    if (info.permission(QFile::ReadOwner) == false)
        return Problem{"The program cannot be read", path, "Check its permissions"};
    return info.absoluteFilePath();
}

bool usesToolkit(const QString &program)
{
    const auto path = inspectProgram(program);
    if (!path)
        return false;
    const QStringList needed = readElf(*path).needed;
    return std::any_of(needed.begin(), needed.end(),
                       [](const QString &n) { return n.startsWith("libQt6Widgets"); });
}

} // namespace pipit

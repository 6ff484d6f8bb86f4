// The one file that knows the parser's library.
#include "cli/verbs.h"

#include <CLI/CLI.hpp>

namespace pipit::cli
{

namespace
{

void need(CLI::Option *option, Words::Need need)
{
    if (need == Words::Needed)
        option->required();
}

CLI::Option *text(CLI::App *app, const char *name, QString &into, const char *help)
{
    return app->add_option_function<std::string>(
        name, [&into](const std::string &s) { into = QString::fromStdString(s); }, help);
}

} // namespace

void Words::word(const char *name, QString &into, Need n, const char *help)
{
    need(text(app_, name, into, help), n);
}

void Words::oneOf(const char *name, QString &into, Need n, const QStringList &allowed, const char *help)
{
    std::vector<std::string> all;
    for (const QString &a : allowed)
        all.push_back(a.toStdString());
    CLI::Option *option = text(app_, name, into, help);
    need(option, n);
    option->check(CLI::IsMember(all));
}

void Words::list(const char *name, QStringList &into, Need n, const char *help)
{
    need(app_->add_option_function<std::vector<std::string>>(
             name,
             [&into](const std::vector<std::string> &all) {
                 for (const std::string &s : all)
                     into << QString::fromStdString(s);
             },
             help),
         n);
}

void Words::number(const char *name, double &into, const char *help)
{
    app_->add_option(name, into, help);
}

void Words::whole(const char *name, int &into, int least, int most, const char *help)
{
    app_->add_option(name, into, help)->check(CLI::Range(least, most));
}

void Words::flag(const char *name, bool &into, const char *help)
{
    app_->add_flag(name, into, help);
}

void Words::restIsList()
{
    app_->positionals_at_end();
}

Registry::Registry()
    : app_(std::make_unique<CLI::App>(
          "Connect widget events to handlers, trace how they are dispatched, keep the interface responsive."))
{
    app_->name("pipit");
    app_->set_version_flag("--version", PIPIT_VERSION);
    app_->require_subcommand(0, 1);
}

Registry::~Registry() = default;

Words Registry::begin(const char *name, const char *help, const char *example, std::function<int()> run)
{
    CLI::App *sub = app_->add_subcommand(name, help);
    sub->footer(std::string("Example: ") + example);
    sub->callback([this, run = std::move(run)] { chosen_ = run; });
    return Words(sub);
}

bool Registry::has(const QString &verb) const
{
    const auto verbs = app_->get_subcommands([](const CLI::App *) { return true; });
    return std::any_of(verbs.begin(), verbs.end(),
                       [&](const CLI::App *a) { return a->get_name() == verb.toStdString(); });
}

int Registry::run(int argc, char **argv)
{
    try {
        app_->parse(argc, argv);
    } catch (const CLI::ParseError &e) {
        return app_->exit(e) == 0 ? fine : cannot;
    }
    return chosen_ ? chosen_() : cannot;
}

} // namespace pipit::cli

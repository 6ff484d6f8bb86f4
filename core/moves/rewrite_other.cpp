// The whole in one function, for code that nobody generates anything for.
#include "core/moves/writer.h"

namespace pipit
{

namespace
{

class OtherWriter : public CodeWriter
{
public:
    OtherWriter(const CutQuestion &q, const Cut &cut, const Rewritten &made, const InPlace &place)
        : CodeWriter(q, cut, place.name), made_(made), place_(place)
    {
    }

    // The pieces of what was made for a project, put together differently.
    Rewritten write()
    {
        const QString work = part("Work");
        out_ = made_;
        out_.structs =
            "namespace\n{\n\n" + made_.structs + work.trimmed() +
            "\n\n// One after the other, in the order in which they were triggered.\nQThreadPool &" + name_ +
            "Pool()\n{\n    static QThreadPool pool;\n    pool.setMaxThreadCount(1);\n    return pool;\n}\n\n"
            "} // namespace\n\n";
        for (const char *header : {"QFutureWatcher", "QPromise", "QThreadPool", "memory"})
            out_.includes << header;
        out_.functions = function();
        return out_;
    }

private:
    QString part(const QString &which) const
    {
        const qsizetype name = made_.functions.indexOf(name_ + which + '(');
        qsizetype from = made_.functions.lastIndexOf("\n\n", name);
        from = from < 0 ? 0 : from + 2;
        const qsizetype end = made_.functions.indexOf("\n}", name);
        return made_.functions.mid(from, end + 2 - from);
    }

    static QString bodyOf(const QString &function)
    {
        const qsizetype open = function.indexOf("\n{\n");
        return function.mid(open + 3).chopped(1);
    }

    QString function() const
    {
        QString take = bodyOf(part("Take")), show = bodyOf(part("Show"));
        QString input;
        if (made_.input != "void") {
            const qsizetype last = take.lastIndexOf("    return ");
            input = take.mid(last + 11).trimmed().chopped(1);
            take.truncate(last);
        } else if (cut_.declines) {
            take.truncate(take.lastIndexOf("    return true;"));
        }
        static const QRegularExpression declines("\\breturn (?:\\{\\}|false);");
        take.replace(declines, "return;");
        show.remove("    outcome.value(); // throws what the work threw\n");
        show.prepend("    done.waitForFinished(); // throws what the work threw\n");
        show.replace("outcome.cancelled", "done.isCanceled()");
        show.replace("outcome.value()", "done.result()");
        QString inside;
        for (const QString &line : show.split('\n'))
            if (!line.isEmpty())
                inside += (line.trimmed().isEmpty() ? QString() : "    " + line) + '\n';
        const QString future = "QFuture<" + made_.result + '>', promise = "QPromise<" + made_.result + '>';
        const QString given = made_.input == "void" ? QString() : ", input";
        QString start = "    auto *job = new QFutureWatcher<" + made_.result + ">(" + place_.owner +
                        ");\n    " + place_.connect + "(job, &QFutureWatcherBase::finished, " + place_.owner +
                        ", [" + place_.captures + (place_.captures == "=" ? "" : ", job") + "] {\n" +
                        "        job->deleteLater();\n        " + future + " done = job->future();\n" +
                        inside + "    });\n";
        if (!input.isEmpty())
            start += "    const " + made_.input + " input" +
                     (input.startsWith(made_.input + '{') ? input.mid(made_.input.size()) : " = " + input) +
                     ";\n";
        start += "    auto promise = std::make_shared<" + promise + ">();\n" +
                 "    job->setFuture(promise->future());\n" + "    " + place_.connect +
                 "(job, &QObject::destroyed, [promise] { promise->future().cancel(); });\n" + "    " + name_ +
                 "Pool().start([promise" + given + "] {\n        promise->start();\n        try {\n" +
                 (made_.result == "void"
                      ? "            " + name_ + "Work(*promise" + given + ");\n"
                      : "            " + made_.result + " found = " + name_ + "Work(*promise" + given +
                            ");\n            if (!promise->isCanceled())\n"
                            "                promise->addResult(std::move(found));\n") +
                 "        } catch (...) {\n            promise->setException(std::current_exception());\n    "
                 "    }\n"
                 "        promise->finish();\n    });\n";
        return "{\n" + take + start + '}';
    }

    const Rewritten &made_;
    const InPlace &place_;
};

} // namespace

Rewritten rewriteInPlace(const CutQuestion &question, const Cut &cut, const InPlace &place)
{
    const Rewritten made = rewriteForBackground(question, cut, place.name, question.function.begin);
    return OtherWriter(question, cut, made, place).write();
}

} // namespace pipit

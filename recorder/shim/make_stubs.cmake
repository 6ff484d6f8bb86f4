# Writes stubs.S from the one list in stubs.h: for each function a stub `jmp *slot` and a first
# target that resolves it with all argument registers kept.
file(READ ${HEADER} text)
string(REGEX REPLACE "[\\\\;\n]" "" text "${text}")
string(REGEX REPLACE "\"[ \t]*\"" "" text "${text}") # adjacent string literals
string(REGEX MATCHALL "X\\([A-Za-z0-9]+,[ \t]*\"[A-Za-z0-9_]+\"" entries "${text}")
set(out "    .text\n")
set(table "    .data\n    .globl pipit_first\n    .hidden pipit_first\n    .align 8\npipit_first:\n")
set(i 0)
foreach(entry IN LISTS entries)
  string(REGEX REPLACE "X\\([A-Za-z0-9]+,[ \t]*\"([A-Za-z0-9_]+)\"" "\\1" name "${entry}")
  math(EXPR at "8 * ${i}")
  # Aligned: an odd address in a pointer to member function stands for a virtual one.
  string(APPEND out "    .p2align 4\n    .globl ${name}\n    .type ${name}, @function\n${name}:\n"
    "    movq pipit_slots@GOTPCREL(%rip), %r11\n    movq ${at}(%r11), %r11\n"
    "    testq %r11, %r11\n    je first_${i}\n    jmp *%r11\n"
    "first_${i}:\n    movl $${i}, %r11d\n    jmp resolve_common\n    .size ${name}, .-${name}\n")
  string(APPEND table "    .quad first_${i}\n")
  math(EXPR i "${i} + 1")
endforeach()
string(APPEND out [[
resolve_common:
    pushq %rbp
    movq %rsp, %rbp
    andq $-16, %rsp
    subq $192, %rsp
    movq %rdi, 0(%rsp)
    movq %rsi, 8(%rsp)
    movq %rdx, 16(%rsp)
    movq %rcx, 24(%rsp)
    movq %r8, 32(%rsp)
    movq %r9, 40(%rsp)
    movq %rax, 48(%rsp)
    movups %xmm0, 64(%rsp)
    movups %xmm1, 80(%rsp)
    movups %xmm2, 96(%rsp)
    movups %xmm3, 112(%rsp)
    movups %xmm4, 128(%rsp)
    movups %xmm5, 144(%rsp)
    movups %xmm6, 160(%rsp)
    movups %xmm7, 176(%rsp)
    movl %r11d, %edi
    call pipit_resolve
    movq %rax, %r11
    movq 0(%rsp), %rdi
    movq 8(%rsp), %rsi
    movq 16(%rsp), %rdx
    movq 24(%rsp), %rcx
    movq 32(%rsp), %r8
    movq 40(%rsp), %r9
    movq 48(%rsp), %rax
    movups 64(%rsp), %xmm0
    movups 80(%rsp), %xmm1
    movups 96(%rsp), %xmm2
    movups 112(%rsp), %xmm3
    movups 128(%rsp), %xmm4
    movups 144(%rsp), %xmm5
    movups 160(%rsp), %xmm6
    movups 176(%rsp), %xmm7
    movq %rbp, %rsp
    popq %rbp
    jmp *%r11
]])
file(WRITE ${OUT} "${out}${table}    .section .note.GNU-stack,\"\",@progbits\n")

# Completion of tackpoint-cli for bash.
_tackpoint_cli() {
  local word=${COMP_WORDS[COMP_CWORD]} before=${COMP_WORDS[COMP_CWORD - 1]}
  if [ "$COMP_CWORD" = 1 ]; then
    mapfile -t COMPREPLY < <(compgen -W "info run steps measure check verbs convert shot --help --version" -- "$word")
    return
  fi
  if [ "${COMP_WORDS[1]}" = verbs ]; then
    mapfile -t COMPREPLY < <(compgen -W "$(tackpoint-cli verbs 2> /dev/null) --help" -- "$word")
    return
  fi
  case $before in
    --view) mapfile -t COMPREPLY < <(compgen -W "top bottom front back left right iso" -- "$word"); return ;;
    --unit) mapfile -t COMPREPLY < <(compgen -W "mm cm m in ft" -- "$word"); return ;;
    --up|--out-up) mapfile -t COMPREPLY < <(compgen -W "y z" -- "$word"); return ;;
    --size) mapfile -t COMPREPLY < <(compgen -W "1280x800 1920x1080" -- "$word"); return ;;
  esac
  if [[ $word == -* ]]; then
    local options="--help"
    case ${COMP_WORDS[1]} in
      info | measure) options="--json --help" ;;
      run) options="--out --json --help" ;;
      check) options="--tolerance --json --help" ;;
      convert) options="--unit --up --out-unit --out-up --help" ;;
      shot) options="--view --size --night --help" ;;
    esac
    mapfile -t COMPREPLY < <(compgen -W "$options" -- "$word")
    return
  fi
  compopt -o filenames 2> /dev/null
  mapfile -t COMPREPLY < <(compgen -f -- "$word")
}
complete -F _tackpoint_cli tackpoint-cli

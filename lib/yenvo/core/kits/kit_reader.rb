# frozen_string_literal: true

module Yenvo
  module Core
    module Kits
      # Reads a kit from plain Hashes and Arrays, as JSON and YAML give them, and finds all that is wrong with its
      # build.
      class KitReader < RuleReader
        KEYS = %w[format name record count from day_off moves phases].freeze
        NEEDED = %w[format name record phases].freeze

        # @return [Kit, nil] nil when there are problems
        def read(plain)
          return unless keys(plain, [], KEYS, NEEDED)

          wrong(["format"], "must be #{Kit::FORMAT}", plain["format"]) unless plain["format"] == Kit::FORMAT
          @day_off = one_of(plain.fetch("day_off", "later"), ["day_off"], DateRule::DAY_OFF)
          count = one_of(plain.fetch("count", "forward"), ["count"], Kit::COUNTS)
          kit = {
            name: text(plain["name"], ["name"], Kit::LIMITS[:name]), kind: text(plain["record"], ["record"], 80),
            count:, from: text(plain.fetch("from", (count == "back") ? "" : "event"), ["from"], 64),
            day_off: @day_off, moves: one_of(plain.fetch("moves", "follow"), ["moves"], Kit::MOVES),
            phases: list(plain["phases"], ["phases"], Kit::LIMITS[:phases]) { |phase, path| phase(phase, path) }.compact
          }
          if kit[:phases].sum { |phase| phase.tasks.size } > Kit::LIMITS[:tasks]
            wrong(["phases"], "must have at most #{Kit::LIMITS[:tasks]} tasks in all")
          end
          Kit.new(**kit) if problems.empty?
        end

        private

        def phase(plain, path)
          return unless keys(plain, path, %w[name tasks], %w[name tasks])

          Phase.new(
            name: text(plain["name"], [*path, "name"], Kit::LIMITS[:name]) || "",
            tasks: list(plain["tasks"], [*path, "tasks"], Kit::LIMITS[:tasks]) { |task, at| kit_task(task, at) }.compact
          )
        end

        def kit_task(plain, path)
          given = task_fields(plain, path, "kit", %w[key under after opens], %w[key title]) or return
          key = handle(plain["key"], [*path, "key"])
          more = {
            under: plain["under"] && text(plain["under"], [*path, "under"], 40),
            after: plain["after"] && after(plain["after"], [*path, "after"]),
            opens: plain["opens"] && opening(plain["opens"], [*path, "opens"])
          }
          KitTask.new(key:, **given, **more.compact) if key && given[:title]
        end

        def handle(value, path)
          return value if value.is_a?(String) && value.match?(/\A[a-z0-9_-]{1,40}\z/)

          wrong(path, "must be a short name of small letters, digits, - and _", value)
        end

        def after(value, path)
          list(value, path, Kit::LIMITS[:ways]) do |way, at|
            list(way, at, Kit::LIMITS[:steps]) { |step, place| step(step, place) }.compact
          end
        end

        def step(plain, path)
          return unless keys(plain, path, %w[task answer], %w[task])

          Step.new(
            task: text(plain["task"], [*path, "task"], 40),
            answer: plain["answer"] && text(plain["answer"], [*path, "answer"], 60)
          )
        end

        def opening(plain, path)
          return unless keys(plain, path, %w[kind values same link kit], %w[kind values])

          Opening.new(
            kind: text(plain["kind"], [*path, "kind"], 80), values:
              list(plain["values"], [*path, "values"], Rule::LIMITS[:items]) do |item, at|
                one_setting(item, at)
              end.compact,
            same:
              list(plain.fetch("same", []), [*path, "same"], Rule::LIMITS[:items]) { |item, at| text(item, at, 64) },
            link: plain["link"] && text(plain["link"], [*path, "link"], 64),
            kit: plain["kit"] && text(plain["kit"], [*path, "kit"], 120)
          )
        end

        # Where a date does not say what it does on a day off, it does as the kit says; it counts from when the task
        # comes.
        def date(plain, path, **more)
          plain = {"from" => "comes", "day_off" => @day_off}.merge(plain) if plain.is_a?(Hash)
          super
        end
      end
    end
  end
end

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

          at = group_at({**USUAL, "from" => (plain["count"] == "back") ? "" : "event", **plain}, [])
          at.one_of("format", [Kit::FORMAT])
          @day_off = at.one_of("day_off", DateRule::DAY_OFF)
          kit = {
            name: at.text("name", Kit::LIMITS[:name]), kind: at.text("record", 80),
            count: at.one_of("count", Kit::COUNTS),
            from: at.text("from", 64), day_off: @day_off, moves: at.one_of("moves", Kit::MOVES),
            phases: at.list("phases", Kit::LIMITS[:phases]) { |phase, path| phase(phase, path) }.compact
          }
          if kit[:phases].sum { |phase| phase.tasks.size } > Kit::LIMITS[:tasks]
            wrong(["phases"], "must have at most #{Kit::LIMITS[:tasks]} tasks in all")
          end
          Kit.new(**kit) if problems.empty?
        end

        USUAL = {"count" => "forward", "day_off" => "later", "moves" => "follow"}.freeze
        private_constant :USUAL

        private

        def phase(plain, path)
          return unless keys(plain, path, %w[name tasks], %w[name tasks])

          at = group_at(plain, path)
          Phase.new(
            name: at.text("name", Kit::LIMITS[:name]) || "",
            tasks: at.list("tasks", Kit::LIMITS[:tasks]) { |task, place| kit_task(task, place) }.compact
          )
        end

        def kit_task(plain, path)
          given = task_fields(plain, path, "kit", %w[key under after opens], %w[key title]) or return
          at = group_at(plain, path)
          key = at.read(:handle, "key")
          more = {under: at.text?("under", 40), after: at.read?(:after, "after"), opens: at.read?(:opening, "opens")}
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

          at = group_at(plain, path)
          Step.new(task: at.text("task", 40), answer: at.text?("answer", 60))
        end

        def opening(plain, path)
          return unless keys(plain, path, %w[kind values same link kit], %w[kind values])

          at = group_at({"same" => [], **plain}, path)
          most = Rule::LIMITS[:items]
          Opening.new(
            kind: at.text("kind", 80), same: at.read(:texts, "same", most, 64), link: at.text?("link", 64),
            values: at.list("values", most) { |item, place| one_setting(item, place) }.compact,
            kit: at.text?("kit", 120)
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

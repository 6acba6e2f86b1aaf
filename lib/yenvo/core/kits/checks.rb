# frozen_string_literal: true

module Yenvo
  module Core
    module Kits
      # All that stands between a draft of a kit and its publication, and what is worth knowing before it.
      module Checks
        module_function

        # @param kit [Kit]
        # @param key [String, nil] of the kit, to find one that would open itself
        # @return [Array(Array<Problem>, Array<Hash>)] problems, and notes: kind ("open" or "people"), text, tasks
        #   (keys)
        def look(kit, schema, key: nil)
          compiled, problems = CompiledKit.bind(kit, schema, key:)
          problems = problems.dup
          problems.unshift(Problem.at(["name"], "must have words")) if kit.name.strip.empty?
          problems.concat(openings(kit, schema, key))
          [problems, compiled ? open_ways(kit) + left(kit, schema) : []]
        end

        # An answer that leads nowhere while another of the same task does.
        # @return [Array<Hash>]
        def open_ways(kit)
          kit.tasks.flat_map do |task|
            asked = kit.tasks.flat_map { |other| other.after.flatten.select { |step| step.task == task.key } }
            next [] if asked.empty? || asked.any? { |step| step.answer.nil? }

            (task.answers - asked.map(&:answer)).map do |answer|
              {
                "kind" => "open", "text" =>
                  "Task #{kit.number(task.key)}, #{answer}: nothing comes after it. What follows the other answers " \
                  "is then not needed.",
                "tasks" => [task.key]
              }
            end
          end
        end

        # @return [Array<Hash>] persons whom it names and who are not here any more
        def left(kit, schema)
          kit.tasks.filter_map do |task|
            gone =
              [task.assign, task.fallback].compact.flat_map { |way| [way["person"], *way["persons"]] }.compact
                .filter_map { |person| schema.person(person) }.reject(&:active)
            gone.any? &&
              {
                "kind" => "people",
                "text" => "#{gone.map(&:name).uniq.join(", ")}, whom task #{kit.number(task.key)} names, has left",
                "tasks" => [task.key]
              }
          end
        end

        # @return [Array<Problem>] openings with kits that are none, do not fit, or lead back to this one
        def openings(kit, schema, key)
          kit.phases.each_with_index.flat_map do |phase, p|
            phase.tasks.each_with_index.filter_map do |task, t|
              wanted = task.opens&.kit or next
              wrong = opening_wrong(wanted, task.opens, schema, key)
              wrong && Problem.at(["phases", p, "tasks", t, "opens", "kit"], wrong)
            end
          end
        end

        def opening_wrong(wanted, opens, schema, key)
          return "must be another kit; a kit that opens itself would never end" if wanted == key

          other = schema.kits[wanted]
          return "must be a published kit; #{Show.quoted(wanted)} is none" unless other
          unless other.kit.kind == opens.kind
            return "must be a kit for the record it opens; “#{other.kit.name}” is for another kind"
          end

          if key && leads_to?(other.kit, key, schema, Set.new)
            "must not lead back to this kit; “#{other.kit.name}” would open it again"
          end
        end

        def leads_to?(kit, key, schema, seen)
          kit.tasks.filter_map { |task| task.opens&.kit }.any? do |next_key|
            next true if next_key == key
            next false unless seen.add?(next_key)

            (other = schema.kits[next_key]) && leads_to?(other.kit, key, schema, seen)
          end
        end
      end
    end
  end
end

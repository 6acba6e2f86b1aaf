# frozen_string_literal: true

module Yenvo
  module Engine
    # Writes a table row by row, many at one go, each bit with the place behind it in one transaction, so that it goes
    # on where it was, whatever dies when, and nothing is written twice.
    class BringingTableIn
      include TableWork

      BIT = 500
      DOOR = "table"

      # @param job [Hash] row
      # @return [Integer] rows looked at
      def bit(job, now)
        import = import(job)
        sight = sight(import)
        plan = plan(import, sight)
        bit = @root.imports.file(import, plan.form).bit(**import.slice(:place, :line), limit: BIT)
        cause = Store::Journal::Cause.person(import[:by], now).with(unheard: !import[:rules])
        verdicts = Writing.new(@root, plan, sight, import, cause).all(bit.rows)
        refuse(import, verdicts.select { |one| one.what == "refused" })
        written = counted(JSON.parse(import[:written] || "{}"), verdicts)
        go_on(job, import, bit, "done", now, {written: JSON.generate(written), moved: verdicts.size})
        verdicts.size
      end

      # Writes the rows of one bit.
      class Writing
        def initialize(root, plan, sight, import, cause)
          @root = root
          @rows = Store::TableRows.new(root, plan, sight, import[:by])
          @type = root.schema.kind!(plan.map.kind.key)
          @import = import
          @cause = cause
        end

        # @param rows [Array<Store::TableFile::Row>]
        # @return [Array<Store::TableRows::Verdict>] what became of each
        def all(rows)
          done = []
          until rows.empty?
            verdicts = up_to_known(@rows.verdicts(rows))
            done.concat(write(verdicts))
            rows = rows.drop(verdicts.size)
          end
          done
        end

        private

        # A row that comes to what an earlier one of the same bit makes is looked at once that is made.
        def up_to_known(verdicts)
          known = Set.new
          verdicts.take_while { |one| one.key.nil? || one.what == "refused" || known.add?(one.key) }
        end

        def write(verdicts)
          fresh, others = verdicts.partition { |one| one.what == "make" }
          made = make(fresh).to_h { |one| [one.row.line, one] }
          changed = others.to_h { |one| [one.row.line, (one.what == "change") ? change(one) : one] }
          verdicts.map { |one| made[one.row.line] || changed[one.row.line] }
        end

        def make(verdicts)
          return [] if verdicts.empty?
          return one_by_one(verdicts) if !@cause.unheard && @root.records.rules_before?(@type.key)

          @root.db.transaction(savepoint: true) { at_once(verdicts) }
        rescue Sequel::ConstraintViolation
          # Somebody has made the same in this moment, or taken away what it leads to.
          one_by_one(verdicts)
        end

        def at_once(verdicts)
          images = @root.records.make_many(@type, verdicts.map(&:values), cause: @cause, came:)
          note(verdicts.zip(images).map { |one, image| [one.row.line, image, nil] })
          timers(images)
          verdicts
        end

        # What time brings is not what happened, so that rules meet that all the same.
        def timers(images)
          return unless @cause.unheard

          rules = @root.in_force.timed(@root.epoch).of(@type.key)
          ids = images.map { |image| image["id"] }
          places = rules.flat_map { |rule| @root.timers.places(rule, ids, at: @cause.at) }
          @root.upkeep.work_out(places, building: "skip")
        end

        def one_by_one(verdicts) = verdicts.map { |one| alone(one) { made(one) } }

        def made(one)
          image = @root.records.make(@type.key, one.values, cause: @cause, came:)
          made_is(one.row.line, image)
          one
        end

        def made_is(line, image)
          note([[line, image, nil]])
          timers([image])
        end

        def change(one)
          alone(one) do
            # As it is behind the lock, so that it can be put back as it was.
            before = Store::Image.of(@root.records.lock(one.record["id"]))
            after = @root.records.change(before["id"], one.values, cause: @cause)
            keys = one.values.keys.reject { |key| before[key] == after[key] }
            note([[one.row.line, after, {"was" => before.slice(*keys), "is" => after.slice(*keys), "keys" => keys}]])
            keys.empty? ? one.with(what: "same") : one
          end
        end

        # What is refused leaves the others alone.
        def alone(one, &)
          @root.db.transaction(savepoint: true, &)
        rescue *StepByStep::REFUSALS => error
          problems = error.is_a?(Store::Refused) ? error.fields : {"" => error.message}
          one.with(what: "refused", problems:)
        end

        def came = {"door" => DOOR, "through" => @import[:id].to_s}

        # @param rows [Array<Array(Integer, Hash, Hash)>] line, image and what was changed
        def note(rows)
          plain = rows.map do |line, image, changed|
            {import_id: @import[:id], line:, record_id: image["id"], version: image["version"],
             changed: changed && JSON.generate(changed)}
          end
          @root.db[:import_rows].multi_insert(plain)
        end
      end
    end
  end
end

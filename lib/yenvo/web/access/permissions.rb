# frozen_string_literal: true

module Yenvo
  module Web
    # Who may do what.
    class Permissions
      # @param person [Hash] row of people
      # @param schema [Core::Schema]
      def initialize(person, schema)
        @person = person
        @schema = schema
      end

      # Rules are written by administrators.
      def write_rules? = @person[:role] == "administrator"

      # The set-up is changed by administrators.
      # @raise [Forbidden]
      def set_up! =
        write_rules? ||
          raise(
            Forbidden,
            "The set-up is changed by administrators, and you are signed in as a #{@person[:role]}. Ask an " \
            "administrator for the change."
          )

      # What lies in the trash is erased before its time by administrators.
      # @raise [Forbidden]
      def erase! =
        write_rules? ||
          raise(Forbidden,
            "Records are erased for good by administrators, and you are signed in as a #{@person[:role]}. Ask one " \
            "of them, or leave it to the trash.")

      # Tasks are worked by whom they belong to, by that person's team, by who made them, and by leads and
      # administrators.
      # @param task [Hash] row of tasks
      def work?(task) =
        lead? || [task[:assignee], task[:made_by]].include?(@person[:key]) ||
          (!task[:team].nil? && @person[:teams].include?(task[:team]))

      def lead? = %w[lead administrator].include?(@person[:role])

      # Rules are started by hand by leads and administrators.
      # @raise [Forbidden]
      def start_rules! =
        lead? ||
          raise(
            Forbidden,
            "Rules are started by leads and administrators, and you are signed in as a #{@person[:role]}. Ask one " \
            "of them."
          )

      # Days away are entered by leads for those in one of their teams, by administrators for all.
      # @param person [Hash] row of people
      def enter_absences?(person) =
        write_rules? || (lead? && (@person[:teams] & @schema.person(person[:key]).teams).any?)

      # @raise [Forbidden]
      def lead! =
        lead? ||
          raise(Forbidden, "This page is for leads and administrators, and you are signed in as a #{@person[:role]}.")

      # A kit in use is skipped through, stopped and moved by who began it, leads and administrators.
      # @param copy [Hash] row
      # @raise [Forbidden]
      def lead_copy!(copy) =
        lead? || copy[:begun_by] == @person[:key] ||
          raise(Forbidden, "A kit in use is changed by who began it, or by a lead. Ask one of them.")

      # A record is taken away and brought back by those whom its kind names; brought back also by who took it away.
      # @param record [Hash] row with kind and owner, and perhaps by
      # @raise [Forbidden]
      def take_away!(record) =
        record[:by] == @person[:key] || by_kind!(:taken_away_by, record, "taken away and brought back")

      # A record is changed by those whom its kind names.
      # @param record [Hash] row with kind and owner
      # @raise [Forbidden]
      def change!(record) = by_kind!(:changed_by, record, "changed")

      # A record of a kind is made by whoever may change one of their own.
      # @param kind [String]
      # @raise [Forbidden]
      def make!(kind)
        type = @schema.kind(kind)
        return if type.nil? || access.owners(type, :changed_by).nil? || access.may?(:changed_by, type, @person[:key])

        raise Forbidden, "Only administrators add to #{type.plural}. Ask one of them."
      end

      # @raise [Forbidden]
      def write_rules! =
        write_rules? ||
          raise(
            Forbidden, "Rules are written by administrators, and you are signed in as a #{@person[:role]}. Ask an " \
            "administrator for the change."
          )

      # @raise [Forbidden]
      def work!(task, schema)
        return if work?(task)

        whose =
          task[:assignee] ? "#{schema.name_of(task[:assignee])}'s" : "for the queue #{schema.queue_name(task[:queue])}"
        raise Forbidden, "This task is #{whose}. They, their team or a lead can work it or pass it on."
      end

      private

      def access = @schema.access(@person[:key])

      def allowed?(verb, record)
        kind = @schema.kind(record[:kind])
        kind.nil? || access.may?(verb, kind, record[:owner])
      end

      def by_kind!(verb, record, done)
        return if allowed?(verb, record)

        kind = @schema.kind!(record[:kind])
        whose = Core::Access::LEVELS.fetch(kind.public_send(verb))
        what = kind.list ? "What stands on #{kind.plural} is" : "#{kind.plural} are"
        raise Forbidden, "#{what} #{done} by #{whose}. Ask one of them."
      end
    end
  end
end

# frozen_string_literal: true

module Yenvo
  module Store
    # Whoever changes a record or a task says so here, once, and in the caller's transaction. Those who keep something
    # in step with it hear of it, in the order in which they were given; a follower has a method of the same name for
    # each thing that it follows.
    class Happened
      # What can be followed.
      # record_changed(type, before, after, entry, cause): a record was made (before is empty) or changed; entry is the
      #   number of the journal's entry.
      # records_made(type, images, entries, cause): many were made at one go; who does not follow that hears of each.
      # record_gone(type, image, entry, cause): it is about to be taken away.
      # task_changed(task, changed, cause): row of a task after a step, and what of it differs, in the trigger's words.
      # tasks_touched(places, at): tasks about records, by kind and id, were made or changed.
      # task_reopens(task, cause): row of a task that is over and is about to be opened again.
      THINGS = %i[record_changed records_made record_gone task_changed tasks_touched task_reopens].freeze

      # @param followers [Array<Object>] in order
      def initialize(followers)
        @hearing = THINGS.to_h { |thing| [thing, followers.select { |one| one.respond_to?(thing) }] }
      end

      # @param entries [Array<Integer>] of the images, in order
      def records_made(type, images, entries, cause)
        at_once, others = @hearing.fetch(:record_changed).partition { |one| one.respond_to?(:records_made) }
        at_once.each { |one| one.records_made(type, images, entries, cause) }
        images.zip(entries).each do |image, entry|
          others.each { |one| one.record_changed(type, {}, image, entry, cause) }
        end
      end

      (THINGS - [:records_made]).each do |thing|
        define_method(thing) { |*said| @hearing.fetch(thing).each { |one| one.public_send(thing, *said) } }
      end
    end
  end
end
